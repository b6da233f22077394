/** Songs in words and chords, in and out. */
export { withPlayedMelody } from './byEar';
export { withHead } from './head';
export { type MelodyMeasure, writeMelody } from './melody';
export { readSong, type SongReading, setupSaid } from './read';
export { type SongHeld, writeChordPro, writeSongText } from './write';
