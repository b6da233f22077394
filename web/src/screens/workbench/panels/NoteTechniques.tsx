import { Button, Group } from '@mantine/core';
import { type Edit, type OwnTechnique, SIMPLE_TECHNIQUES, TOUCHES, techniqueFault } from '#core/edit';
import {
  type Arrangement,
  BEND_SHAPES,
  type BendShape,
  has,
  type ScoreNote,
  TECHNIQUES,
  techniqueOf,
} from '#core/score';
import { capital } from '#core/words';
import { Choice } from '../../../parts/Choice';
import styles from './NotePanel.module.css';

const BEND_WORDS: Record<BendShape, string> = {
  up: 'up',
  release: 'up and back',
  pre: 'before the pluck, then back',
  repeat: 'twice',
};
const BEND_SIZES: [number, string][] = [
  [1, 'a half tone'],
  [2, 'a whole tone'],
  [3, 'a tone and a half'],
  [4, 'two tones'],
];

/** A technique as the value of a choice, and back. */
const keyOf = (technique: OwnTechnique | undefined) => (technique ? JSON.stringify(technique) : '');

/** What a note can be given beyond a pluck: buttons for what is there or not, choices for what has several ways. */
export function NoteTechniques({
  arrangement,
  note,
  onEdit,
}: {
  arrangement: Arrangement;
  note: ScoreNote;
  onEdit: (edit: Edit) => void;
}) {
  const give = (technique: OwnTechnique, on: boolean): Edit => ({
    kind: 'technique',
    ids: [note.id],
    values: { technique, on },
  });
  const can = (technique: OwnTechnique) => !techniqueFault(arrangement, note, technique);
  const bend = techniqueOf(note, 'bend');
  const several: { label: string; kind: OwnTechnique['kind']; options: [OwnTechnique, string][] }[] = [
    {
      label: 'Bend',
      kind: 'bend',
      options: BEND_SIZES.map(([semitones, words]) => [
        { kind: 'bend', semitones, shape: bend?.shape ?? 'up' },
        words,
      ]),
    },
    {
      label: 'Way of the bend',
      kind: 'bend',
      options: bend ? BEND_SHAPES.map(shape => [{ ...bend, shape }, BEND_WORDS[shape]]) : [],
    },
    {
      label: 'Slide into it',
      kind: 'slide-in',
      options: [
        [{ kind: 'slide-in', way: 'below' }, 'from below'],
        [{ kind: 'slide-in', way: 'above' }, 'from above'],
      ],
    },
    {
      label: 'Slide off it',
      kind: 'slide-off',
      options: [
        [{ kind: 'slide-off', way: 'below' }, 'downwards'],
        [{ kind: 'slide-off', way: 'above' }, 'upwards'],
      ],
    },
    {
      label: 'Harmonic',
      kind: 'harmonic',
      options: [
        [{ kind: 'harmonic' }, `over fret ${note.fret}`],
        ...TOUCHES.map((touch): [OwnTechnique, string] => [
          { kind: 'harmonic', touch },
          `touched ${touch} frets above`,
        ]),
      ],
    },
  ];
  return (
    <>
      <Group gap={6} mb={8}>
        {SIMPLE_TECHNIQUES.map(kind => {
          const on = has(note, kind);
          return (
            <Button
              key={kind}
              size="compact-sm"
              variant={on ? 'filled' : 'default'}
              aria-pressed={on}
              disabled={!on && !can({ kind })}
              onClick={() => onEdit(give({ kind }, !on))}
            >
              {capital(TECHNIQUES[kind].name)}
            </Button>
          );
        })}
      </Group>
      <div className={styles.howItSounds}>
        {several.map(({ label, kind, options }) => {
          const own = note.techniques?.find((t): t is OwnTechnique => t.kind === kind);
          const offered = options.filter(([technique]) => keyOf(technique) === keyOf(own) || can(technique));
          if (!offered.length) return null;
          return (
            <Choice
              key={label}
              size="xs"
              label={label}
              options={[
                { value: '', label: 'none' },
                ...offered.map(([technique, words]) => ({ value: keyOf(technique), label: words })),
              ]}
              value={keyOf(own)}
              onChange={value =>
                onEdit(
                  value ? give(JSON.parse(value) as OwnTechnique, true) : give(own ?? options[0]![0], false),
                )
              }
            />
          );
        })}
      </div>
    </>
  );
}
