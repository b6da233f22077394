/** What a field of the heading says, written into a tune and its text: a file of its own, for it needs no reader of ABC. */
import { beatsPerMinute, type Meter, parseMeter, pulseTicks, TICKS_PER_WHOLE } from '../../time';
import { kindInTitle, type Tune } from '../../tune';

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

/**
 * The text of a tune with a field of its heading: in the place of the one it has, else before the key, with which a heading ends.
 *
 * @param change what the field says, from what it said; nothing: it is left out
 */
function withField(abc: string, letter: string, change: (said: string) => string): string {
  const lines = abc.split('\n');
  const key = lines.findIndex(line => line.startsWith('K:'));
  const isField = (line: string, at: number) => line.startsWith(`${letter}:`) && (key < 0 || at < key);
  const value = change(lines.find(isField)?.slice(2).trim() ?? '');
  const at = lines.findIndex(isField);
  const field = value ? [`${letter}:${value}`] : [];
  const others = lines.map((line, i) => (isField(line, i) ? [] : [line]));
  if (at >= 0) others[at] = field;
  else if (key >= 0) others[key] = [...field, lines[key]!];
  return others.flat().join('\n');
}

const changed = (tune: Tune, letter: string, change: (said: string) => string): Tune =>
  tune.abc === undefined ? tune : { ...tune, abc: withField(tune.abc, letter, change) };

/**
 * Gives a tune another tempo, in its text, too: words that stand there stay.
 *
 * @example writeTempo(tune, 96).quartersPerMinute // 96
 */
export function writeTempo(tune: Tune, quartersPerMinute: number): Tune {
  const pulse = pulseTicks(tune.meter);
  // A beat is a whole number of sixty-fourths, written in the fewest.
  let [beat, unit] = [(pulse * 64) / TICKS_PER_WHOLE, 64];
  while (beat % 2 === 0 && unit > 1) [beat, unit] = [beat / 2, unit / 2];
  const tempo = `${beat}/${unit}=${Math.round(beatsPerMinute(tune.meter, quartersPerMinute))}`;
  return changed({ ...tune, quartersPerMinute }, 'Q', said =>
    [/"[^"]*"/.exec(said)?.[0], tempo].filter(Boolean).join(' '),
  );
}

/**
 * Says of what kind a tune is, in its text, too; nothing: of none that has a name.
 *
 * @example writeKind(tune, 'slow air').rhythm // 'slow air'
 */
export function writeKind(tune: Tune, kind: string): Tune {
  // A per cent sign begins a remark.
  const named = kind.replace(/[%\s]+/g, ' ').trim();
  const { rhythm: _before, ...rest } = tune;
  return changed(named ? { ...rest, rhythm: named } : rest, 'R', () => named);
}

/**
 * A tune that is new here, of the kind that its title names where nothing else says one: by its name a reel is a reel.
 *
 * @example withKindOfTitle({ ...tune, title: 'The Kesh Jig' }).rhythm // 'jig'
 */
export function withKindOfTitle(tune: Tune): Tune {
  const kind = tune.rhythm === undefined && kindInTitle(tune.title);
  return kind ? writeKind(tune, kind) : tune;
}
