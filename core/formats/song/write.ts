/** Songs out: ChordPro, and words under chords for a message. */
import { parseChord, transposeChord } from '../../chord';
import { INSTRUMENTS, type Setup, tuningName } from '../../instrument';
import { keyFifths, keyName, transposeKey } from '../../pitch';
import { beatsPerMinute, measureTicks, meterName, pulseTicks } from '../../time';
import { type SheetCell, type SheetPart, sectionsOf, sheetOf, type Tune, transposeTune } from '../../tune';
import { greatestDivisor } from '../divisor';
import { inLines, writeMelody } from './melody';

/** How a song is held: the capo, under which chords are written as shapes. */
export interface SongHeld {
  /** What it is played on; a guitar as usual when left out. */
  setup?: Pick<Setup, 'instrument' | 'tuning'>;
  capo?: number;
  strum?: string;
  /** Strums of sections that have their own, by id. */
  strums?: Readonly<Record<string, string>>;
}

/** Instrument and tuning, where they are others than a guitar's usual ones, as the head of a text says them. */
function setupLines(setup: SongHeld['setup']): string[] {
  if (!setup) return [];
  const { instrument, tuning } = setup;
  const name = tuningName(setup);
  return [
    ...(instrument === 'guitar' ? [] : [`Instrument: ${INSTRUMENTS[instrument].name}`]),
    ...(name === 'Standard' ? [] : [`Tuning: ${[...tuning].reverse().join(' ')}`]),
  ];
}

/** Names of chords as the hand holds them at a capo. */
function shapeNames(tune: Tune, capo: number): (symbol: string) => string {
  const fifths = keyFifths(transposeKey(tune.key, -capo));
  return symbol => {
    const chord = parseChord(symbol);
    return chord ? transposeChord(chord, -capo, fifths).symbol : symbol;
  };
}

/** Environments of ChordPro by what parts are called. */
function environment(name: string): string {
  const known = /^(verse|chorus|bridge)\b/i.exec(name);
  if (known) return known[1]!.toLowerCase();
  return /^refrain\b/i.test(name) ? 'chorus' : 'verse';
}

const comments = (says: readonly string[] = []) => says.map(text => `{comment: ${text}}`);

/** Whether a part is measures without words: a line that goes on inside the measure of the one before is none. */
const isGrid = ({ lines }: SheetPart) =>
  lines.every(line => line[0]?.bar !== false && line.every(({ words, lead }) => !words && !lead));

/**
 * A tune as ChordPro: words with the chords in them as shapes, parts without words as grids. Read back it has the same
 * chords, lengths, words, form, key, tempo and capo.
 *
 * @example writeChordPro(tune, { capo: 2 }).split('\n')[0] // '{title: Example}'
 */
export function writeChordPro(tune: Tune, { setup, capo = 0, strum, strums = {} }: SongHeld = {}): string {
  const name = shapeNames(tune, capo);
  const parts = sheetOf(tune);
  const whole = measureTicks(tune.meter);
  const each = usualLength(parts.filter(part => !isGrid(part)).flatMap(part => part.lines.flat())) ?? whole;
  const beat = pulseTicks(tune.meter);
  const out = [
    `{title: ${tune.title}}`,
    ...(tune.composer ? [`{composer: ${tune.composer}}`] : []),
    `{key: ${writtenKey(tune, capo)}}`,
    `{time: ${meterName(tune.meter)}}`,
    `{tempo: ${Math.round(beatsPerMinute(tune.meter, tune.quartersPerMinute))}}`,
    ...(tune.rhythm ? [`{meta: kind ${tune.rhythm}}`] : []),
    ...(tune.feel && tune.feel !== 'straight' ? [`{meta: feel ${tune.feel}}`] : []),
    ...setupLines(setup).map(
      line => `{meta: ${line.replace(/^\w+:/, name => name.slice(0, -1).toLowerCase())}}`,
    ),
    ...(capo ? [`{capo: ${capo}}`] : []),
    ...(strum ? [`{meta: strum ${strum}}`] : []),
    ...(each === whole ? [] : [`{meta: each ${each / beat} beats}`]),
  ];
  for (const part of parts) {
    const { section, times, again, quartersPerMinute } = part;
    const label = times > 1 ? `${section.name} x${times}` : section.name;
    const tempo =
      quartersPerMinute === undefined
        ? []
        : [`{tempo: ${Math.round(beatsPerMinute(tune.meter, quartersPerMinute))}}`];
    out.push('');
    if (again) {
      out.push(
        environment(section.name) === 'chorus' && times === 1 && !tempo.length
          ? `{chorus: ${section.name}}`
          : `{comment: ${label}:}`,
        ...tempo,
      );
      continue;
    }
    const what = isGrid(part) ? 'grid' : environment(section.name);
    // An environment that is played more than once says so in its heading.
    if (times > 1) out.push(`{comment: ${label}:}`);
    else out.push(`{start_of_${what}: ${section.name}}`);
    if (strums[section.id]) out.push(`{meta: strum ${strums[section.id]}}`);
    out.push(...tempo);
    for (const line of part.lines)
      out.push(
        what === 'grid' ? gridLine(line, name) : inlineOf(line, name, each, beat),
        ...comments(line.at(-1)?.says),
      );
    out.push(...melodyLines(tune, section.id, capo).map(line => `{meta: melody ${line}}`));
    if (times === 1) out.push(`{end_of_${what}}`);
  }
  return `${out.join('\n')}\n`;
}

/** The melody of a section in ABC, as it is held at a capo; none where it has no notes. */
function melodyLines(tune: Tune, sectionId: string, capo: number): string[] {
  const { measures, order } = transposeTune(tune, -capo);
  const sections = sectionsOf(measures);
  const section = sections.find(({ id }) => id === sectionId);
  if (!section) return [];
  // An upbeat is a part of its own, which only the first part sings.
  const upbeat = sections.findLast(({ to }) => to === section.from);
  const [first, second] = order ?? sections.map(({ id }) => id);
  const begins = upbeat && measures[upbeat.from]!.offset > 0 && first === upbeat.id && second === sectionId;
  const from = begins ? upbeat.from : section.from;
  const own = measures.slice(from, section.to);
  if (!own.some(({ events }) => events.some(({ pitch }) => pitch))) return [];
  return inLines(own).map(writeMelody);
}

function writtenKey(tune: Tune, capo: number): string {
  const { tonic, mode } = transposeKey(tune.key, -capo);
  if (mode === 'major') return tonic;
  return mode === 'minor' ? `${tonic}m` : `${tonic} ${mode}`;
}

/** The length that most chords have. */
function usualLength(cells: readonly SheetCell[]): number | undefined {
  const counts = new Map<number, number>();
  for (const { ticks } of cells) counts.set(ticks, (counts.get(ticks) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

/** "[G]Down by the [C][*2 beats]river": what lasts longer or shorter than most says so in an annotation. */
function inlineOf(
  line: readonly SheetCell[],
  name: (symbol: string) => string,
  each: number,
  beat: number,
): string {
  let text = '';
  for (const [i, { chord, lead, words, ticks }] of line.entries()) {
    if (lead) text += `${lead} `;
    text += chord ? `[${name(chord.symbol)}]` : '[*-]';
    if (ticks !== each) text += `[*${ticks / beat} beats]`;
    const goesOn = i < line.length - 1 && words.endsWith('-');
    text += goesOn ? words.slice(0, -1) : words;
    if (!goesOn && words && i < line.length - 1) text += ' ';
  }
  return text.trimEnd();
}

/** "| G . C . | D . . . |": a cell for each part of a measure that its chords share. */
function gridLine(line: readonly SheetCell[], name: (symbol: string) => string): string {
  const measures: SheetCell[][] = [];
  for (const cell of line) {
    if (cell.bar || !measures.length) measures.push([]);
    measures.at(-1)!.push(cell);
  }
  const bars = measures.map(cells => {
    // A measure that is cut short at the end is written as a whole one.
    const unit = cells.reduce((common, { ticks }) => greatestDivisor(common, ticks), 0);
    return cells
      .flatMap(({ chord, ticks }) => [
        chord ? name(chord.symbol) : '.',
        ...Array.from({ length: ticks / unit - 1 }, () => '.'),
      ])
      .join(' ');
  });
  return `| ${bars.join(' | ')} |`;
}

/**
 * A tune as plain text for a message: chords over words, by the shapes of a capo.
 *
 * @example writeSongText(tune, {}).includes('Example') // true
 */
export function writeSongText(tune: Tune, { setup, capo = 0, strum, strums = {} }: SongHeld = {}): string {
  const name = shapeNames(tune, capo);
  const shapeKey = keyName(transposeKey(tune.key, -capo));
  const out = [
    tune.title,
    ...(tune.composer ? [tune.composer] : []),
    ...setupLines(setup),
    capo ? `Capo ${capo}, ${shapeKey} shapes, sounds ${keyName(tune.key)}` : `No capo, ${shapeKey}`,
    ...(strum ? [`Strum: ${strum}`] : []),
  ];
  for (const part of sheetOf(tune)) {
    const { section, times, again } = part;
    out.push('', `${section.name}${times > 1 ? ` x${times}` : ''}${again ? ' (as before)' : ''}:`);
    if (part.quartersPerMinute !== undefined)
      out.push(`(${Math.round(beatsPerMinute(tune.meter, part.quartersPerMinute))} beats a minute)`);
    out.push(...(part.says ?? []).map(text => `(${text})`));
    if (strums[section.id] && !again) out.push(`Strum: ${strums[section.id]}`);
    for (const line of part.lines) {
      const says = (line.at(-1)?.says ?? []).map(text => `(${text})`);
      if (isGrid(part)) {
        out.push(gridLine(line, name), ...says);
        continue;
      }
      let chords = '';
      let words = '';
      for (const [i, cell] of line.entries()) {
        if (cell.lead) words += `${cell.lead} `;
        const symbol = cell.chord ? name(cell.chord.symbol) : '';
        // A chord never runs into the one before it.
        const at = Math.max(words.length, chords.length ? chords.length + 1 : 0);
        if (symbol) chords = chords.padEnd(at) + symbol;
        words = symbol ? words.padEnd(at) : words;
        const goesOn = i < line.length - 1 && cell.words.endsWith('-');
        words += goesOn ? cell.words.slice(0, -1) : cell.words ? `${cell.words} ` : '';
      }
      out.push(chords.trimEnd(), ...(words.trim() ? [words.trimEnd()] : []), ...says);
    }
  }
  return `${out.join('\n')}\n`;
}
