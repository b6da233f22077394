/** Rules that span the fields of a record. */
import { nextAfter, repeatedId } from '../identity';
import { INSTRUMENTS, type Setup } from '../instrument';

/** What is wrong with the ids of a record's parts: one given twice, or a number that is to be given next. */
export function faultOfIds(nextId: number, ids: Record<string, readonly string[]>): string | undefined {
  for (const [parts, list] of Object.entries(ids)) {
    const twice = repeatedId(list);
    if (twice !== undefined) return `two ${parts} have the id "${twice}"`;
    if (nextAfter(list) > nextId) return `"nextId" is ${nextId}, and ${parts} have that number already`;
  }
  return undefined;
}

/** What is wrong with how an instrument is set up; undefined when it is one that can be played. */
export function faultOfSetup(setup: Setup): string | undefined {
  const instrument = INSTRUMENTS[setup.instrument];
  const strings = instrument.tuning.length;
  if (setup.tuning.length !== strings)
    return `"setup.tuning" names ${setup.tuning.length} strings, a ${instrument.name.toLowerCase()} has ${strings}`;
  const beyond = setup.capoStrings?.find(string => string > strings);
  return beyond === undefined ? undefined : `"setup.capoStrings" names string ${beyond} of ${strings}`;
}
