export * from './read';
export { writeMusicXml } from './write';
