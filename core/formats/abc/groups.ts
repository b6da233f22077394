/** How beats go together, written into a tune: a file of its own, for no reader of ABC is needed to change a field. */
import { type Meter, parseMeter } from '../../time';
import type { Tune } from '../../tune';

/**
 * Says how the beats of a tune's meter go together, in all its measures of that meter and in the text it was read from.
 *
 * @param groups beats of each group, as many as the meter has in all
 * @throws RangeError where they do not add up to the meter
 * @example writeGroups(tune, [1, 3]).meter.groups // [1, 3]
 */
export function writeGroups(tune: Tune, groups: readonly number[]): Tune {
  const { beats, unit } = tune.meter;
  if (groups.reduce((sum, own) => sum + own, 0) !== beats)
    throw new RangeError(`${groups.join(' + ')} are not the ${beats} beats of the meter`);
  const isMeant = (meter: Meter) => meter.beats === beats && meter.unit === unit;
  const grouped = (meter: Meter): Meter => (isMeant(meter) ? { ...meter, groups: [...groups] } : meter);
  const measures = tune.measures.map(measure => ({ ...measure, meter: grouped(measure.meter) }));
  const said = { ...tune, meter: grouped(tune.meter), measures };
  if (tune.abc === undefined) return said;
  // A field of its own line, or one among the notes.
  const abc = tune.abc.replace(/(^M:\s*|\[M:\s*)([^\s%\]]+)/gm, (field, head: string, text: string) => {
    const meter = parseMeter(text);
    return meter && isMeant(meter) ? `${head}${groups.join('+')}/${unit}` : field;
  });
  return { ...said, abc };
}
