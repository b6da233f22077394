/**
 * Files in and out: ABC, MusicXML, MIDI. The bundle stands apart (formats/bundle), since its checks weigh more.
 */
export * from './abc';
export * from './dictation';
export * from './encoding';
export { type FilePart, type FileRemark, fileRemarkWords } from './file';
export * from './midi';
export * from './musicxml';
export { type Piece, type PieceRequest, pieceOf } from './piece';
export type { Heading, Reading, TextRemark } from './reading';
export * from './scoreFile';
export * from './song';
export * from './tab';
export * from './text';
export * from './wav';
