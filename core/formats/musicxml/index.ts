export { musicXmlText } from './compressed';
export * from './read';
export { writeMusicXml } from './write';
