import { useCallbackRef } from '@mantine/hooks';
import { useRef, useState } from 'react';
import { type Edit, type History, joinLast } from '#core/edit';
import { type Arrangement, type ScoreNote, voiceOf } from '#core/score';
import { type LengthStep, nextLength, TICKS_PER_QUARTER } from '#core/time';
import type { Cursor } from '../../parts/ribbon/RibbonRow';
import type { Key } from './keys';
import { useTypedNumber } from './useTypedNumber';

/** Notes and rests written at the cursor, by digits or by pointing at the neck, as long as the next one is to be. */
export function useWriting({
  arrangement,
  history,
  cursor,
  at,
  note,
  attempt,
  update,
  stepBy,
}: {
  arrangement: Arrangement;
  history: History;
  cursor: Cursor;
  /** Place of the cursor's measure, and the note at the cursor. */
  at: number;
  note: ScoreNote | undefined;
  /** Does an edit; tells whether it was done. */
  attempt: (edit: Edit) => boolean;
  update: (change: (history: History) => History) => void;
  stepBy: (ticks: number) => void;
}) {
  const { measures } = arrangement;
  const typeNumber = useTypedNumber();
  /** Of the next note that is typed, in ticks; it follows the lengths that notes are given. */
  const [length, setLength] = useState(TICKS_PER_QUARTER / 2);
  /** Steps there were before the first digit of a number. */
  const firstDigit = useRef(0);

  /** Writes a fret on a string at the cursor: the note that is there gets it, else there is a new one. */
  const writeFret = useCallbackRef((string: number, fret: number): boolean => {
    const struck = measures[at]!.notes.filter(other => other.start === cursor.start);
    const present = struck.find(other => other.string === string);
    if (present) return attempt({ kind: 'fret', ids: [present.id], values: { fret } });
    // What is struck together lasts together, until a hand says otherwise.
    const ticks = struck[0]?.ticks ?? length;
    return attempt({
      kind: 'insert',
      ids: [cursor.measure],
      values: { start: cursor.start, string, fret, ticks },
    });
  });
  const typeDigit = (digit: string, time: number) => {
    const { text, goesOn } = typeNumber(digit, `${cursor.measure} ${cursor.start} ${cursor.string}`, time);
    if (!goesOn) firstDigit.current = history.past.length;
    const done = writeFret(cursor.string, Number(text));
    // Both digits of "12" are one step to take back.
    if (done && goesOn) update(h => (h.past.length > firstDigit.current + 1 ? joinLast(h) : h));
  };
  /** Another length for the note at the cursor and for those typed next. */
  const changeLength = (step: LengthStep) => {
    const next = nextLength(note?.ticks ?? length, step);
    if (!note || attempt({ kind: 'length', ids: [note.id], values: { ticks: next } })) setLength(next);
  };
  /** Writes a rest of the next note's length into the first voice that is silent here, or takes the one here out. */
  const rest = () => {
    const own = measures[at]!;
    const present = own.rests?.find(r => r.start === cursor.start);
    const silent = ([1, 2, 3, 4] as const).find(
      voice =>
        !own.notes.some(
          n => voiceOf(n) === voice && n.start < cursor.start + length && n.start + n.ticks > cursor.start,
        ),
    );
    const values = present
      ? { start: present.start, ticks: present.ticks, voice: present.voice, on: false }
      : { start: cursor.start, ticks: length, voice: silent ?? 1, on: true };
    if (attempt({ kind: 'rest', ids: [cursor.measure], values }) && !present) stepBy(length);
  };
  const keys: Key[] = [
    ...[...'0123456789'].flatMap(digit => {
      const does = 'fret of the note, or a new note (two digits quickly for 10 and up)';
      const run: Key['run'] = event => typeDigit(digit, event?.timeStamp ?? performance.now());
      return [
        { key: digit, does, run },
        { key: `Digit${digit}`, does, run },
      ];
    }),
    { key: '-', does: 'shorter or longer, also for the next notes', run: () => changeLength('shorter') },
    { key: '=', does: 'shorter or longer, also for the next notes', run: () => changeLength('longer') },
    { key: '.', does: 'dot on or off', run: () => changeLength('dot') },
    {
      key: 'k',
      does: 'of a triplet, of five, of seven, or plain, in turn',
      run: () => changeLength('triplet'),
    },
    { key: 'shift+R', does: 'a rest of that length, or the rest here out', run: rest },
  ];
  return { length, setLength, writeFret, keys };
}
