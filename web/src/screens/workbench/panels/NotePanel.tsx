import { Button, Group, Text } from '@mantine/core';
import { useMemo } from 'react';
import { type Edit, editFault, type PlaceOption, placeOptions } from '#core/edit';
import { fingerName } from '#core/hand';
import { stringName } from '#core/instrument';
import { keyFifths, pitchName, prettyAccidentals, spellMidi } from '#core/pitch';
import {
  type Arrangement,
  explainNote,
  gracesText,
  has,
  INTOS,
  type Into,
  intoFault,
  intoOf,
  isDead,
  isStruck,
  lastOn,
  noteBefore,
  noteMidi,
  noteRole,
  ORNAMENTS,
  type Ornament,
  ornamentOf,
  type Pluck,
  type PluckSchool,
  ROLES,
  readGraces,
  roleWords,
  type ScoreNote,
  type StrokeKind,
  type StrokeWay,
  settingsOf,
  spotsOf,
  strokeAt,
  TECHNIQUES,
  type Voice,
} from '#core/score';
import { TICKS_PER_QUARTER } from '#core/time';
import { Choice } from '../../../parts/Choice';
import { Field } from '../../../parts/Field';
import { lengthChoices } from './lengths';
import styles from './NotePanel.module.css';
import { NoteTechniques } from './NoteTechniques';

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

/** The note at the cursor: what it is, why it is there, how it is sounded, and every place where it could be played. */
export function NotePanel({
  arrangement,
  at,
  string,
  note,
  onEdit,
}: {
  arrangement: Arrangement;
  /** Place of the measure, and the string. */
  at: number;
  string: number;
  note: ScoreNote | undefined;
  /** @param string where the cursor goes along */
  onEdit: (edit: Edit, string?: number) => void;
}) {
  const { setup } = arrangement;
  const measure = arrangement.measures[at]!;
  const options = useMemo(() => (note ? placeOptions(arrangement, note.id) : []), [arrangement, note]);
  if (!note) return <Text size="sm">No note on {stringName(setup, string)} here: a digit writes one.</Text>;
  const role = noteRole(arrangement, note.id);
  const name = isDead(note)
    ? 'damped'
    : pitchName(spellMidi(noteMidi(setup, note), keyFifths(measure.key)), true);
  return (
    <section aria-label="This note">
      <h2>
        This note: {name}, {note.role}
      </h2>
      {role && !isDead(note) && (
        <Text size="sm" mb={4}>
          {prettyAccidentals(roleWords(role))}
        </Text>
      )}
      <Text size="sm" mb={6}>
        {prettyAccidentals(explainNote(arrangement, note.id))}
      </Text>
      <Group gap={6} mb={8}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onEdit({ kind: 'pin', ids: [note.id], values: { pinned: !note.pinned } })}
        >
          {note.pinned ? 'Pinned: let it go' : 'Pin it'}
        </Button>
      </Group>
      <NoteTechniques arrangement={arrangement} note={note} onEdit={onEdit} />
      <div className={styles.howItSounds}>
        <Choice
          size="xs"
          label="It is"
          options={ROLES.map(value => ({ value, label: value === 'inner' ? 'an inner note' : value }))}
          value={note.role}
          onChange={value => onEdit({ kind: 'role', ids: [note.id], values: { role: value } })}
        />
        <Choice
          size="xs"
          label="Length"
          options={lengthChoices(note.ticks, note.tuplets)}
          value={note.ticks}
          onChange={ticks => onEdit({ kind: 'length', ids: [note.id], values: { ticks } })}
        />
        <Choice
          size="xs"
          label="Written in"
          options={VOICE_CHOICES}
          value={note.voice ?? 0}
          onChange={voice =>
            onEdit({ kind: 'voice', ids: [note.id], values: { voice: (voice || null) as Voice | null } })
          }
        />
      </div>
      {note.tie === undefined && !isDead(note) && (
        <Field
          key={`${note.id} ${gracesText(spotsOf(note))}`}
          label="Grace notes before it, by frets (4:3 for string 4)"
          value={gracesText(spotsOf(note))}
          onTake={text =>
            onEdit({
              kind: 'graces',
              ids: [note.id],
              values: { frets: readGraces(text) },
            })
          }
        />
      )}
      {note.tie === undefined && !isDead(note) && (
        <HowItSounds arrangement={arrangement} measure={at} note={note} onEdit={onEdit} />
      )}
      {!isDead(note) && <Places setup={setup} note={note} options={options} onEdit={onEdit} />}
    </section>
  );
}

const VOICE_CHOICES = [
  { value: 0, label: 'its usual voice' },
  ...[1, 2, 3, 4].map(value => ({ value, label: `voice ${value}` })),
];

const SWEEPS = ['brush down', 'brush up', 'roll down', 'roll up'] as const;
const SWEEP_WORDS: Record<(typeof SWEEPS)[number], string> = {
  'brush down': 'brushed down',
  'brush up': 'brushed up',
  'roll down': 'rolled down',
  'roll up': 'rolled up',
};

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
  const before = noteBefore(arrangement, measure, note) ?? lastOn(arrangement, measure, note);
  const own = intoOf(note)?.kind;
  const intos = INTOS.filter(into => !intoFault(before, note, into));
  const { school } = settingsOf(arrangement);
  const stroke = strokeAt(written, note.start);
  const strokeEdit = (value: string): Edit => {
    const [kind, way] = value.split(' ') as [StrokeKind, StrokeWay];
    return { kind: 'stroke', ids: [note.id], values: { stroke: value ? { kind, way } : null } };
  };
  const ornaments = ORNAMENTS.filter(
    ornament => !editFault(arrangement, { kind: 'ornament', ids: [note.id], values: { ornament } }),
  );
  return (
    <div className={styles.howItSounds}>
      {(ornaments.length > 1 || carried !== 'none') && (
        <Choice
          size="xs"
          label="Ornament"
          options={[
            ...(carried === undefined ? [{ value: 'source', label: 'as it is' }] : []),
            ...ornaments.map(o => ({ value: o, label: ORNAMENT_WORDS[o] })),
          ]}
          value={carried ?? 'source'}
          onChange={value => {
            if (value !== 'source')
              onEdit({ kind: 'ornament', ids: [note.id], values: { ornament: value as Ornament } });
          }}
        />
      )}
      {(intos.length > 0 || own) && (
        <Choice
          size="xs"
          label="Sounded by"
          options={[
            { value: '', label: 'a pluck' },
            ...[...new Set([...intos, ...(own ? [own] : [])])].map(into => ({
              value: into,
              label: `a ${TECHNIQUES[into].name}`,
            })),
          ]}
          value={own ?? ''}
          onChange={value => {
            onEdit({ kind: 'into', ids: [note.id], values: { into: (value || null) as Into | null } });
          }}
        />
      )}
      {(stroke || !editFault(arrangement, strokeEdit('brush down'))) && (
        <Choice
          size="xs"
          label="With what is struck then"
          options={[
            { value: '', label: 'at once' },
            ...SWEEPS.map(value => ({ value, label: SWEEP_WORDS[value] })),
          ]}
          value={stroke ? `${stroke.kind} ${stroke.way}` : ''}
          onChange={value => onEdit(strokeEdit(value))}
        />
      )}
      {isStruck(note) && (
        <Choice
          size="xs"
          label="Plucked by"
          options={[
            {
              value: '',
              label: note.pluckPinned || !note.pluck ? 'as usual' : `usual: ${PLUCK_WORDS[note.pluck]}`,
            },
            ...PLUCKS[school].map(pluck => ({ value: pluck, label: PLUCK_WORDS[pluck] })),
          ]}
          value={note.pluckPinned ? (note.pluck ?? '') : ''}
          onChange={value => {
            onEdit({ kind: 'pluck', ids: [note.id], values: { pluck: (value || null) as Pluck | null } });
          }}
        />
      )}
    </div>
  );
}

/** "fret 3, finger 2"; where the note is now, the finger that it has. */
function placeWords(option: PlaceOption, note: ScoreNote): string {
  if (option.harmonic) return `harmonic over fret ${option.fret}`;
  if (!option.fret) return 'open';
  const finger = option.here ? note.finger : option.finger;
  return `fret ${option.fret}${finger ? `, ${fingerName(finger)}` : ''}`;
}

/** What a place does to ring and to the next change. */
function consequences({ fret, free, next }: PlaceOption): string {
  const quarters = Number((free / TICKS_PER_QUARTER).toFixed(1));
  const long = quarters === 1 ? 'a quarter' : quarters > 1 ? `${quarters} quarters` : 'less than a quarter';
  const words = [`${fret === 0 ? 'rings by itself' : 'can ring'} ${long}`];
  if (next)
    words.push(`then the finger goes to string ${next.string}, ${next.fret ? `fret ${next.fret}` : 'open'}`);
  else if (fret > 0) words.push('the finger may stay');
  return words.join('; ');
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
    <table className={styles.options}>
      <tbody>
        {options.map(option => (
          <tr
            key={`${option.string}-${option.fret}-${option.harmonic}`}
            className={option.here ? styles.here : ''}
          >
            <td>
              {option.here || option.taken ? (
                <strong>{stringName(setup, option.string)}</strong>
              ) : (
                <button
                  type="button"
                  aria-label={`${stringName(setup, option.string)}, ${placeWords(option, note)}`}
                  onClick={() =>
                    onEdit(
                      option.harmonic || has(note, 'harmonic')
                        ? {
                            kind: 'place',
                            ids: [note.id],
                            values: {
                              string: option.string,
                              fret: option.fret,
                              ...(option.harmonic && { harmonic: true }),
                            },
                          }
                        : { kind: 'string', ids: [note.id], values: { string: option.string } },
                      option.string,
                    )
                  }
                >
                  {stringName(setup, option.string)}
                </button>
              )}
              <br />
              {placeWords(option, note)}
            </td>
            <td style={{ color: option.fault ? 'var(--cranberry)' : undefined }}>
              {option.fault ?? consequences(option)}
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
