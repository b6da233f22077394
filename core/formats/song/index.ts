/** Songs in words and chords, in and out. */
export { readSong, type SongReading } from './read';
export { type SongHeld, writeChordPro, writeSongText } from './write';
