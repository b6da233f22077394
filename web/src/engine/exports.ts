/** Writers of files, loaded when something is exported; without the ABC reader, which is heavy. */
export { writeMidi } from '#core/formats/midi';
export { writeMusicXml } from '#core/formats/musicxml';
export { writeTab } from '#core/formats/tab';
