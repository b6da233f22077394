/**
 * Files in and out: ABC, MusicXML, MIDI. The bundle stands apart (formats/bundle), since its checks weigh more.
 */
export * from './abc';
export * from './dictation';
export * from './midi';
export * from './musicxml';
export * from './tab';
