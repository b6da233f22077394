/** Text tab, in and out. */
export { readTab } from './read';
export { writeTab } from './write';
