import { Button, Checkbox, Group, NativeSelect, Text } from '@mantine/core';
import { useMemo } from 'react';
import { stringName } from '#core/instrument';
import { keyFifths, pitchName, prettyAccidentals, spellMidi } from '#core/pitch';
import {
  type Arrangement,
  explainNote,
  gracesOf,
  type History,
  INTOS,
  type Into,
  intoFault,
  moveToString,
  noteBefore,
  noteMidi,
  noteRole,
  ORNAMENTS,
  type Ornament,
  ornamentOf,
  type PlaceOption,
  type Pluck,
  type PluckSchool,
  placeAt,
  placeOptions,
  roleWords,
  type ScoreNote,
  setAccent,
  setInto,
  setOrnament,
  setPinned,
  setPluck,
  settingsOf,
} from '#core/score';
import type { Cursor } from './Ribbon';

const ORNAMENT_WORDS: Record<Ornament, string> = {
  none: 'none',
  hammer: 'hammer-on from below',
  slide: 'slide from below',
  quick: 'quick change from below',
  semitone: 'from a semitone below',
  pull: 'pull-off from above',
  triplet: 'quick triplet',
  turn: 'turn around it',
  roll: 'roll around it',
};
const INTO_WORDS: Record<Into, string> = { hammer: 'hammer-on', pull: 'pull-off', slide: 'slide' };
const PLUCK_WORDS: Record<Pluck, string> = {
  p: 'thumb (p)',
  i: 'index (i)',
  m: 'middle (m)',
  a: 'ring (a)',
  down: 'downstroke',
  up: 'upstroke',
};
const FINGERS: readonly Pluck[] = ['p', 'i', 'm', 'a'];
const STROKES: readonly Pluck[] = ['down', 'up'];
const PLUCKS: Record<PluckSchool, readonly Pluck[]> = {
  'by-string': FINGERS,
  'thumb-index': FINGERS,
  'thumb-two': FINGERS,
  pick: STROKES,
  'pick-fingers': [...STROKES, 'm', 'a'],
};

export type Edit = (history: History) => History | { error: string };

/** The note at the cursor: what it is, why it is there, how it is sounded, and every place where it could be played. */
export function NotePanel({
  arrangement,
  cursor,
  onEdit,
}: {
  arrangement: Arrangement;
  cursor: Cursor;
  /** @param string where the cursor goes along */
  onEdit: (edit: Edit, string?: number) => void;
}) {
  const { setup } = arrangement;
  const measure = arrangement.measures[cursor.measure]!;
  const note = measure.notes.find(n => n.start === cursor.start && n.string === cursor.string);
  const options = useMemo(() => (note ? placeOptions(arrangement, note.id) : []), [arrangement, note]);
  if (!note) return <Text size="sm">No note on {stringName(setup, cursor.string)} here.</Text>;
  const role = noteRole(arrangement, note.id);
  const name = note.dead
    ? 'damped'
    : pitchName(spellMidi(noteMidi(setup, note), keyFifths(measure.key)), true);
  return (
    <section aria-label="This note">
      <h2>
        This note: {name}, {note.voice}
      </h2>
      {role && !note.dead && (
        <Text size="sm" mb={4}>
          {prettyAccidentals(roleWords(role))}
        </Text>
      )}
      <Text size="sm" mb={6}>
        {prettyAccidentals(explainNote(arrangement, note.id))}
      </Text>
      <Group gap={12} mb={6}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onEdit(history => setPinned(history, note.id, !note.pinned))}
        >
          {note.pinned ? 'Pinned: let it go' : 'Pin it'}
        </Button>
        {!note.tied && (
          <Checkbox
            size="sm"
            label="Accent"
            checked={note.accent ?? false}
            onChange={event => {
              const { checked } = event.currentTarget;
              onEdit(history => setAccent(history, note.id, checked));
            }}
          />
        )}
      </Group>
      {!note.tied && !note.dead && (
        <HowItSounds arrangement={arrangement} measure={cursor.measure} note={note} onEdit={onEdit} />
      )}
      {!note.dead && <Places setup={setup} note={note} options={options} onEdit={onEdit} />}
    </section>
  );
}

/** Ornament, slur into it, and who plucks it. */
function HowItSounds({
  arrangement,
  measure,
  note,
  onEdit,
}: {
  arrangement: Arrangement;
  measure: number;
  note: ScoreNote;
  onEdit: (edit: Edit) => void;
}) {
  const written = arrangement.measures[measure]!;
  const carried = ornamentOf(arrangement, written, note);
  const before = noteBefore(arrangement, measure, note);
  const intos = INTOS.filter(into => !intoFault(before, note, into));
  const { school } = settingsOf(arrangement);
  const ornaments = ORNAMENTS.filter(o => gracesOf(arrangement, written, note, o));
  return (
    <div className="how-it-sounds">
      {(ornaments.length > 1 || carried !== 'none') && (
        <NativeSelect
          size="xs"
          label="Ornament"
          data={[
            ...(carried === undefined ? [{ value: 'source', label: 'as it is' }] : []),
            ...ornaments.map(o => ({ value: o, label: ORNAMENT_WORDS[o] })),
          ]}
          value={carried ?? 'source'}
          onChange={event => {
            const { value } = event.currentTarget;
            if (value !== 'source') onEdit(history => setOrnament(history, note.id, value as Ornament));
          }}
        />
      )}
      {(intos.length > 0 || note.into) && (
        <NativeSelect
          size="xs"
          label="Sounded by"
          data={[
            { value: '', label: 'a pluck' },
            ...[...new Set([...intos, ...(note.into ? [note.into] : [])])].map(into => ({
              value: into,
              label: `a ${INTO_WORDS[into]}`,
            })),
          ]}
          value={note.into ?? ''}
          onChange={event => {
            const { value } = event.currentTarget;
            onEdit(history => setInto(history, note.id, (value || undefined) as Into | undefined));
          }}
        />
      )}
      {!note.into && (
        <NativeSelect
          size="xs"
          label="Plucked by"
          data={[
            {
              value: '',
              label: note.pluckPinned || !note.pluck ? 'as usual' : `usual: ${PLUCK_WORDS[note.pluck]}`,
            },
            ...PLUCKS[school].map(pluck => ({ value: pluck, label: PLUCK_WORDS[pluck] })),
          ]}
          value={note.pluckPinned ? (note.pluck ?? '') : ''}
          onChange={event => {
            const { value } = event.currentTarget;
            onEdit(history => setPluck(history, note.id, (value || undefined) as Pluck | undefined));
          }}
        />
      )}
    </div>
  );
}

/** Every place where the note could be played, with what it costs. */
function Places({
  setup,
  note,
  options,
  onEdit,
}: {
  setup: Arrangement['setup'];
  note: ScoreNote;
  options: PlaceOption[];
  onEdit: (edit: Edit, string?: number) => void;
}) {
  const cheapest = Math.min(...options.filter(o => !o.fault).map(o => o.cost));
  return (
    <table className="options">
      <tbody>
        {options.map(option => (
          <tr
            key={`${option.string}-${option.fret}-${option.harmonic}`}
            className={option.here ? 'here' : ''}
          >
            <td>
              {option.here || option.taken ? (
                <strong>{stringName(setup, option.string)}</strong>
              ) : (
                <button
                  type="button"
                  onClick={() =>
                    onEdit(
                      history =>
                        option.harmonic || note.harmonic
                          ? placeAt(history, note.id, option.string, option.fret, option.harmonic)
                          : moveToString(history, note.id, option.string),
                      option.string,
                    )
                  }
                >
                  {stringName(setup, option.string)}
                </button>
              )}
              <br />
              {option.harmonic
                ? `harmonic over fret ${option.fret}`
                : option.fret
                  ? `fret ${option.fret}${option.finger ? `, finger ${option.finger}` : ''}`
                  : 'open'}
            </td>
            <td style={{ color: option.fault ? 'var(--cranberry)' : undefined }}>
              {option.fault ?? (option.fret === 0 ? 'rings by itself' : '')}
            </td>
            <td>
              {option.fault
                ? ''
                : option.here
                  ? 'here'
                  : option.cost === cheapest
                    ? 'easiest'
                    : `+${(option.cost - cheapest).toFixed(1)}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
