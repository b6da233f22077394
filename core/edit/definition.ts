/** What an edit is, and what there is to know of each kind. */
import type { Draft } from 'immer';
import type { Finger } from '../hand';
import type { Key } from '../pitch';
import type {
  Arrangement,
  GraceSpot,
  Into,
  NotePlace,
  Ornament,
  Pluck,
  Role,
  ScoreNote,
  Stroke,
  Voice,
  WrittenMeasure,
} from '../score';
import type { Feel, Meter } from '../time';
import type { NewNote } from './entry';
import type { BarsValues, PhraseValues } from './frame';
import type { PassageGoal } from './passage';
import type { OwnTechnique } from './techniques';

/** What each kind of edit is told. `null` gives a thing back to what is usual. */
export interface EditValues {
  fret: { fret: number };
  string: { string: number };
  place: { string: number; fret: number; harmonic?: boolean };
  finger: { finger: Finger };
  fingers: { fingers: Readonly<Record<string, Finger | null>> };
  refinger: { goal: 'total' | 'worst' };
  length: { ticks: number };
  tie: { on: boolean };
  pin: { pinned: boolean };
  /** `again`: the end of a slide is plucked too. */
  into: { into: Into | null; again?: boolean };
  pluck: { pluck: Pluck | null };
  technique: { technique: OwnTechnique; on: boolean };
  ornament: { ornament: Ornament };
  /** Grace notes by frets of its string or places, and how they lead into it: hammered and pulled where it is not said. */
  graces: { frets: readonly GraceSpot[]; by?: NonNullable<ScoreNote['graceBy']> };
  insert: NewNote;
  /** `behind`: as new measures behind the one named, instead of over it. */
  write: { measures: readonly WrittenMeasure[]; behind?: boolean };
  stroke: { stroke: Pick<Stroke, 'kind' | 'way'> | null };
  passage: { role?: Role; goal: PassageGoal };
  role: { role: Role };
  remove: Record<never, never>;
  'add-measures': { count: number; before: boolean };
  'remove-measures': Record<never, never>;
  /** What lies in the shape rings on: the fingers stay down. */
  'hold-shape': { on: boolean };
  /** In two, at a tick of it. */
  split: { start: number };
  /** With the one behind. */
  join: Record<never, never>;
  phrase: PhraseValues;
  /** A rest of a voice, or none there. */
  rest: { start: number; ticks: number; voice: Voice; on: boolean };
  /** `null`: as its role has it. */
  voice: { voice: Voice | null };
  bars: BarsValues;
  meter: { meter: Meter };
  /** The first measure as a pickup of so many ticks; the whole measure where that is all of it. */
  pickup: { ticks: number };
  key: { key: Key };
  /** `frets`: the shape that is held ("x32010"); without a name it is called as it sounds. */
  chord: { start: number; name: string | null; frets?: string };
  word: { start: number; verse: number; text: string };
  /** On a note of the measure named, on the measure, or without one on the piece. */
  remark: { note?: string; text: string };
  /** The arranger's second choice instead. */
  'next-best': Record<string, never>;
  feel: { feel: Feel };
  /** With a bar that slides on the strings, or with fingers. */
  'slide-bar': { on: boolean };
  /** `only` these measures (ids) of it; the whole when left out. */
  take: { proposal: Arrangement; what: string; only?: readonly string[] };
  name: { name: string | null };
  restore: { state: Arrangement; what: string };
  /** `name` of the way that is kept, `present` of the one that then stands in the score. */
  /** `of`: the measures of that arrangement (of the same ids), and not as they stand. */
  'keep-variant': { name: string; present: string; of?: Arrangement };
  'swap-variant': { variant: string };
  'drop-variant': { variant: string };
  /** Played the last time, or only when it is put in. */
  'last-variant': { variant: string; last: boolean };
}
export type EditKind = keyof EditValues;

/** An edit: what is done (kind and values) to which notes or measures (ids). */
export type Edit = { [K in EditKind]: { kind: K; ids: readonly string[]; values: EditValues[K] } }[EditKind];
type EditOf<K extends EditKind> = Extract<Edit, { kind: K }>;

/** A key that gives an edit of the note at the cursor. */
export interface EditKey {
  /** As hotkey handlers write it: "shift+ArrowUp". */
  key: string;
  /** What it does, for the help. Keys with the same words are told together. */
  does: string;
  /** The edit of a note; what a key takes back the second time depends on the note. */
  edit: (arrangement: Arrangement, note: ScoreNote) => Edit;
}

interface Definition<K extends EditKind> {
  /** In menus. */
  name: string;
  /** What its ids are. */
  on: 'notes' | 'measures' | 'whole';
  keys?: readonly EditKey[];
  /** For undo: "fret 3 on string 2". */
  label: (edit: EditOf<K>, arrangement: Arrangement) => string;
  /** Why it can't be done to a note; undefined when it can. */
  fault?: (arrangement: Arrangement, found: NotePlace, values: EditValues[K]) => string | undefined;
  /** Does it to one note. */
  each?: (draft: Draft<Arrangement>, found: NotePlace, values: EditValues[K], before: Arrangement) => void;
  /** Whether links may have to be put right afterwards: those of its notes, of the notes it names, or all. */
  moves?: true | 'all' | ((edit: EditOf<K>, before: Arrangement) => readonly string[]);
  /** Does it to all at once; says why when it can't be done. */
  all?: (draft: Draft<Arrangement>, edit: EditOf<K>, before: Arrangement) => string | undefined;
}

/** What there is to know of some of the kinds. */
export type Definitions<K extends EditKind> = { [P in K]: Definition<P> };

/** Sets or takes out a field that is only there when it means something. */
export function put<K extends keyof ScoreNote>(
  note: ScoreNote,
  field: K,
  value: ScoreNote[K] | undefined,
): void {
  if (value === undefined || value === false) delete note[field];
  else note[field] = value;
}
