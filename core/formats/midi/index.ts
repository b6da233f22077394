export * from './read';
export { type MidiNote, midiNotes, writeMidi } from './write';
