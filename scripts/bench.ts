/** Speed and size against the budgets of the architecture: a table of medians, with a ratio to a baseline of the same run. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { arrange } from '#core/arrange';
import { planKeys, VOICE_TYPES } from '#core/capo';
import { checkArrangement } from '#core/check';
import { parseChord } from '#core/chord';
import { applyEdit, type Edit, startHistory } from '#core/edit';
import { fingerPassage, greedyFingering, passageOf } from '#core/fingering';
import { readAbc } from '#core/formats';
import { DEFAULT_HAND } from '#core/hand';
import { placesOf, standardSetup } from '#core/instrument';
import { expectedOf, type Fault, judged, onsetsIn, soundOf, withFaults } from '#core/listen';
import { type Arrangement, noteMidi, type ScoreNote } from '#core/score';
import { bestShapePath, findShapes, fingeringsOf } from '#core/shape';
import { performanceOf, renderPerformance } from '#core/sound';
import { playingOrder } from '#core/timeline';
import { datasetFingerings, fingersOf, isTraining } from '../core/testing/dataset';
import { lowestPositionFrets } from './abcTab';
import { HandTable } from './handFigures';

interface Line {
  work: string;
  figure: string;
  budget: string;
  held: boolean | undefined;
  ratio: string;
}
const lines: Line[] = [];

function milliseconds(work: () => unknown): number {
  const start = performance.now();
  work();
  return performance.now() - start;
}
function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)]!;
}
function timed(work: () => unknown, runs: number): number {
  work();
  return median(Array.from({ length: runs }, () => milliseconds(work)));
}

/** A fixed amount of plain arithmetic, so that figures of different machines can be compared. */
function baseline(): number {
  let x = 1;
  for (let i = 0; i < 5_000_000; i++) x = (x * 48271) % 2147483647;
  return x;
}
const base = timed(baseline, 9);

function add(work: string, ms: number, budget: number): void {
  lines.push({
    work,
    figure: `${ms.toFixed(1)} ms`,
    budget: `${budget} ms`,
    held: ms <= budget,
    ratio: (ms / base).toFixed(2),
  });
}

// Shape search over every quality and root.
const guitar = standardSetup('guitar');
const ROOTS = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const QUALITIES = [
  '',
  'm',
  '7',
  'm7',
  'maj7',
  '6',
  'm6',
  '9',
  'm9',
  'maj9',
  '11',
  '13',
  'sus2',
  'sus4',
  '7sus4',
  'add9',
  'dim',
  'dim7',
  'm7b5',
  'aug',
  '5',
  '7b9',
  '7#9',
  '69',
];
const chords = ROOTS.flatMap(root => QUALITIES.map(quality => parseChord(root + quality)!));
for (const chord of chords.slice(0, 40)) findShapes(chord, guitar, DEFAULT_HAND);
const searches = chords.map(chord => timed(() => findShapes(chord, guitar, DEFAULT_HAND), 3));
add(`all shapes of a chord, median of ${chords.length}`, median(searches), 2);
add('all shapes of a chord, worst', Math.max(...searches), 20);

// The best path through a progression.
const BEST_PATH = 2;
/** Many, as each takes so little that most of a few would be the compiler's. */
const PATH_RUNS = 101;
const candidates = ['C', 'Am', 'F', 'G'].map(symbol =>
  findShapes(parseChord(symbol)!, guitar, DEFAULT_HAND, { limit: 20 }),
);
const progression = Array.from({ length: 32 }, (_, i) => candidates[i % 4]!);
add(
  'best path, 32 changes of 20 candidates',
  timed(() => bestShapePath(guitar, progression), PATH_RUNS),
  BEST_PATH,
);

// How that grows with candidates (squared) and with chords (linear).
for (const [chordCount, shapeCount] of [
  [32, 10],
  [32, 40],
  [128, 20],
] as const) {
  const pool = ['C', 'Am', 'F', 'G'].map(symbol =>
    findShapes(parseChord(symbol)!, guitar, DEFAULT_HAND, { limit: shapeCount }),
  );
  const long = Array.from({ length: chordCount }, (_, i) => pool[i % 4]!);
  add(
    `  ${chordCount} changes of ${shapeCount} candidates`,
    timed(() => bestShapePath(guitar, long), PATH_RUNS),
    (BEST_PATH * chordCount * shapeCount ** 2) / (32 * 20 ** 2),
  );
}

// Arranging and checking, and how that grows.
const PHRASE =
  '"D"A2AB AFED|"G"B2BA BcdB|"D"A2AB AFED|"G"gfed "A"BcdB|"D"f2fd "G"g2ge|"Bm"f2fd "G"Bcde|"D"f2fd "Em"g2fg|"D"afed "A"BcdB|';
function abcOf(measures: number) {
  return `X:1\nT:Bench\nM:4/4\nL:1/8\nK:D\n${PHRASE.repeat(measures / 8)}\n`;
}
function tuneOf(measures: number) {
  return readAbc(abcOf(measures))[0]!.tune;
}
add(
  'key-and-capo table, 12 keys × capo 0–9, 32 measures',
  timed(() => planKeys(tuneOf(32), { setup: guitar, hand: DEFAULT_HAND, voice: VOICE_TYPES.alto }), 5),
  100,
);
const work = (measures: number) => {
  const tune = tuneOf(measures);
  return timed(
    () =>
      checkArrangement(
        arrange(tune, { id: 'b', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' }).arrangement!,
        tune,
      ),
    7,
  );
};
const ARRANGE = 150;
// The arranger is large: it takes more than one run until all of it is compiled.
work(32);
const growth = [32, 64, 128, 256].map(measures => ({ measures, ms: work(measures) }));
add('arrange, finger and check 32 measures', growth[0]!.ms, ARRANGE);
for (const { measures, ms } of growth.slice(1))
  add(
    `the same, ${measures} measures (${(ms / growth[0]!.ms).toFixed(1)} × that of 32)`,
    ms,
    (ARRANGE * measures) / 32,
  );
for (const style of ['chord-melody', 'melody'] as const) {
  const tune = tuneOf(32);
  const arranged = () =>
    timed(() => arrange(tune, { id: 'b', instrument: 'guitar', style, capo: 'auto' }), 7);
  // What only this style does is compiled as it runs, too.
  arranged();
  add(`32 measures in ${style} style`, arranged(), ARRANGE);
}

// The left hand: exact solver against a hand that looks one moment ahead, and against lowest positions.
const withFingers = (a: Arrangement, solve: typeof fingerPassage): Arrangement => {
  const { moments, notes } = passageOf(a, { from: 0, to: a.measures.length - 1 });
  const found = solve(a.setup, a.hand, moments);
  if (!found) return a;
  const fingers = new Map<string, number | undefined>();
  for (const [i, group] of notes.entries())
    for (const [j, note] of group.entries()) fingers.set(note.id, found.fingers[i]![j]);
  return {
    ...a,
    measures: a.measures.map(m => ({
      ...m,
      notes: m.notes.map(n => ({ ...n, finger: fingers.get(n.id) as ScoreNote['finger'] })) as ScoreNote[],
    })),
  };
};
/** The melody where the general ABC package puts it; undefined where that draws another number of notes. */
const asPrinted = (a: Arrangement, frets: readonly number[]): Arrangement | undefined => {
  let next = 0;
  let fits = true;
  const measures = a.measures.map(m => ({
    ...m,
    notes: m.notes.map(n => {
      const place = placesOf(a.setup, noteMidi(a.setup, n)).find(p => p.fret === frets[next]);
      next += 1;
      if (!place) fits = false;
      return { ...n, ...place };
    }),
  }));
  return fits && next === frets.length ? { ...a, measures } : undefined;
};
const reelHands = new HandTable();
const bookHands = new HandTable();
const reel64 = { tune: tuneOf(64), abc: abcOf(64) };
const book = readAbc(readFileSync(new URL('../demo/tunes/studio.abc', import.meta.url), 'utf8'));
for (const { table, tune, abc } of [
  { table: reelHands, ...reel64 },
  ...book.map(({ tune }) => ({ table: bookHands, tune, abc: tune.abc! })),
]) {
  const made = (style: 'melody' | 'fingerstyle') =>
    arrange(tune, { id: 'b', instrument: 'guitar', style, capo: 0 }).arrangement!;
  const melody = made('melody');
  const full = made('fingerstyle');
  const printed = asPrinted(melody, await lowestPositionFrets(abc, melody.octaveShift + 12));
  if (!printed) {
    console.log(
      `${tune.title}: the tab of the general ABC package could not be matched; the tune is left out.`,
    );
    continue;
  }
  table.add('melody, as arranged', melody);
  table.add('melody, looking one moment ahead', withFingers(melody, greedyFingering));
  table.add('melody in the lowest position, by abcjs', withFingers(printed, greedyFingering));
  table.add('fingerstyle, as arranged', full);
  table.add('fingerstyle, looking one moment ahead', withFingers(full, greedyFingering));
}
{
  const full = arrange(reel64.tune, { id: 'b', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement!;
  const { moments } = passageOf(full, { from: 0, to: full.measures.length - 1 });
  add(
    'fingers for 64 measures by the exact solver',
    timed(() => fingerPassage(guitar, DEFAULT_HAND, moments), 7),
    300,
  );
}

// An edit's own work in a long piece.
{
  const long = arrange(tuneOf(300), {
    id: 'b',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { level: 4, bass: 'steady' },
  }).arrangement!;
  const all = long.measures.flatMap(m => m.notes);
  let history = startHistory(long);
  const edits = Array.from({ length: 60 }, (_, i): Edit => {
    const note = all[(i * 97) % all.length]!;
    return i % 2
      ? { kind: 'technique', ids: [note.id], values: { technique: { kind: 'accent' }, on: true } }
      : { kind: 'fret', ids: [note.id], values: { fret: 1 + (i % 7) } };
  });
  const times = edits.map(edit =>
    milliseconds(() => {
      const result = applyEdit(history, edit);
      if (!('error' in result)) history = result;
    }),
  );
  add(`an edit's own work, 300 measures, ${all.length} notes`, median(times), 4);
}

// Sixty seconds of six strings.
const tune = tuneOf(32);
const { arrangement } = arrange(tune, { id: 'b', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
const order = playingOrder(tune);
const played = performanceOf(arrangement!, order, 100);
const perMinute = 60 / played.seconds;
add(
  'render 60 s of six-string sound',
  perMinute *
    timed(() => renderPerformance(played, guitar, { sampleRate: 44100, click: false, countIn: [] }), 3),
  200,
);

// What the first screen loads.
const FIRST_SCREEN = 220;
const dist = fileURLToPath(new URL('../dist/', import.meta.url));
if (existsSync(`${dist}index.html`)) {
  const assets = readdirSync(`${dist}assets`);
  const wanted = [...readFileSync(`${dist}index.html`, 'utf8').matchAll(/assets\/([\w.-]+\.js)/g)].map(
    m => m[1]!,
  );
  const loaded = new Set<string>();
  while (wanted.length) {
    const name = wanted.pop()!;
    if (loaded.has(name) || !assets.includes(name)) continue;
    loaded.add(name);
    const code = readFileSync(`${dist}assets/${name}`, 'utf8');
    // Only what a chunk imports at once: "import('./x.js')" comes later.
    for (const match of code.matchAll(/(?:from|import)\s*"\.\/([\w.-]+\.js)"/g)) wanted.push(match[1]!);
  }
  const bytes = [...loaded].reduce(
    (sum, name) => sum + gzipSync(readFileSync(`${dist}assets/${name}`)).length,
    0,
  );
  lines.push({
    work: 'JavaScript of the first screen, gzip',
    figure: `${(bytes / 1000).toFixed(0)} kB`,
    budget: `${FIRST_SCREEN} kB`,
    held: bytes <= FIRST_SCREEN * 1000,
    ratio: '',
  });
} else {
  lines.push({
    work: 'JavaScript of the first screen, gzip',
    figure: 'not built',
    budget: `${FIRST_SCREEN} kB`,
    held: undefined,
    ratio: '',
  });
}

console.log(`Baseline: 5 million steps of plain arithmetic in ${base.toFixed(1)} ms. Ratios are to it.\n`);
const cells = lines.map(l => [
  l.work,
  l.figure,
  l.budget,
  l.held === undefined ? '' : l.held ? 'held' : 'OVER',
  l.ratio,
]);
const table = [['work', 'figure', 'budget', '', 'ratio'], ...cells];
const widths = table[0]!.map((_, column) => Math.max(...table.map(row => row[column]!.length)));
for (const row of table)
  console.log(
    row
      .map((cell, column) => (column ? cell.padStart(widths[column]!) : cell.padEnd(widths[column]!)))
      .join('  '),
  );

reelHands.print('The left hand, mean a measure of a 64-measure reel:');
bookHands.print('The left hand, mean a measure of the demo book on a guitar without a capo:');

// Listening: what is right and accepted, what is wrong and found, on the simulated player.
const heard = { right: 0, accepted: 0, faulty: 0, found: 0 };
let seconds = 0;
const listening = milliseconds(() => {
  for (const { tune } of book.slice(0, 5))
    for (const tempo of [60, 90, 120])
      for (const instrument of ['guitar', 'mandolin'] as const) {
        const { arrangement } = arrange(tune, { id: 'l', instrument, style: 'melody', capo: 0 });
        if (!arrangement) continue;
        const own = { ...arrangement, quartersPerMinute: tempo };
        const performance = performanceOf(own, playingOrder(own), 100);
        const expected = expectedOf(performance);
        const faults = new Map(
          expected.flatMap((_, i): [number, Fault][] =>
            i % 4 === 2 ? [[i, (['late', 'wrong', 'missed', 'early'] as const)[(i >> 2) % 4]!]] : [],
          ),
        );
        const played = withFaults(performance, faults, i => (((i * 37) % 11) / 11 - 0.5) * 0.04);
        const { moments } = judged(expected, onsetsIn(soundOf(played, own.setup, 22050), 22050));
        seconds += performance.seconds;
        for (const [i, { verdict }] of moments.entries()) {
          heard[faults.has(i) ? 'faulty' : 'right'] += 1;
          if (faults.has(i) && verdict !== 'right') heard.found += 1;
          if (!faults.has(i) && verdict === 'right') heard.accepted += 1;
        }
      }
});
const share = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)} %`;
console.log(
  `\nListening on the simulated player, 60 to 120 beats a minute: ${share(heard.accepted, heard.right)} of ${heard.right} right notes accepted (98), ${share(heard.found, heard.faulty)} of ${heard.faulty} faults found (95); ${(listening / 1000).toFixed(1)} s for ${Math.round(seconds)} s of music, played and heard`,
);

// Agreement of the left-hand fingerings with the open dataset @tombatossals/chords-db 0.5.1.
const { cases, broken } = datasetFingerings();
const ranked = cases.map(c => {
  const found = fingeringsOf(c.frets, guitar, DEFAULT_HAND);
  const rank = found.findIndex(f => fingersOf(c.frets, f.grip).join() === c.fingers.join());
  return { c, rank, ours: fingersOf(c.frets, found[0]!.grip) };
});
console.log('\nLeft-hand fingerings of the open dataset @tombatossals/chords-db 0.5.1:');
for (const [name, learned] of [
  ['weights fitted on, roots C to F', true],
  ['reported on, roots F♯ to B', false],
] as const) {
  const set = ranked.filter(r => isTraining(r.c) === learned);
  const share = (most: number) =>
    `${((100 * set.filter(r => r.rank < most).length) / set.length).toFixed(1)} %`;
  console.log(
    `  ${name}: ${set.length} shapes, stored fingering first ${share(1)}, among the first three ${share(3)}`,
  );
}
const rules = new Map<string, number>();
for (const { rule } of broken) rules.set(rule, (rules.get(rule) ?? 0) + 1);
console.log(`  not counted, since they break a rule of the hand: ${broken.length}`);
for (const [rule, count] of [...rules].sort((a, b) => b[1] - a[1])) console.log(`    ${count} ${rule}`);
if (process.argv.includes('--list'))
  for (const entry of broken) console.log(`      ${entry.name}: ${entry.rule}`);

// Disagreements by kind: the shape moved to its lowest fret, stored fingers against ours.
const toText = (fingers: readonly number[]) => [...fingers].reverse().join('');
const pattern = (frets: readonly (number | null)[]) => {
  const played = frets.filter((f): f is number => f !== null);
  const open = played.includes(0);
  const base = open ? 0 : Math.min(...played);
  return `${open ? 'open ' : ''}${[...frets]
    .reverse()
    .map(f => (f === null ? 'x' : f - base))
    .join(' ')}`;
};
const storedFor = new Map<string, Map<string, number>>();
for (const { c } of ranked) {
  const ways = storedFor.get(pattern(c.frets)) ?? new Map<string, number>();
  storedFor.set(pattern(c.frets), ways);
  ways.set(toText(c.fingers), (ways.get(toText(c.fingers)) ?? 0) + 1);
}
const kinds = new Map<string, number>();
let contradicted = 0;
for (const { c, rank, ours } of ranked) {
  if (rank === 0) continue;
  if (storedFor.get(pattern(c.frets))!.size > 1) contradicted += 1;
  const kind = `${pattern(c.frets).padEnd(14)} stored ${toText(c.fingers)}, ours ${toText(ours)}`;
  kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
}
const differing = ranked.filter(r => r.rank > 0).length;
console.log(
  `  disagreements: ${differing}; in ${contradicted} of them the dataset itself stores several fingerings for the moved shape, and ours is kept`,
);
for (const [kind, count] of [...kinds]
  .sort((a, b) => b[1] - a[1])
  .slice(0, process.argv.includes('--list') ? 1000 : 15))
  console.log(`    ${count} × ${kind}`);
