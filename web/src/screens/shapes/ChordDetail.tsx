import { Button, Group, Text } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { type ProgressionChord, searchWishes, type TunePlan } from '#core/capo';
import { chordLabel, parseChord } from '#core/chord';
import {
  barreKind,
  changeWords,
  type EffortPart,
  fingerLabel,
  fingerMoves,
  fingerName,
  moveWords,
  stretchOf,
} from '#core/hand';
import { takesAnyBass } from '#core/instrument';

import { pitchClassOf, pitchName, spellMidi } from '#core/pitch';
import {
  dutiesOf,
  type Equivalent,
  FAMILIES,
  familyOf,
  heldEffort,
  muteWords,
  omittedAndDoubled,
  type Shape,
  shapeNotes,
  shapeText,
} from '#core/shape';
import { arranger } from '../../engine/workers';
import { Choice } from '../../parts/Choice';
import { PictureButtons } from '../../parts/paper/PictureButtons';
import { Hear } from '../../parts/playing/Hear';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import shapePictureStyles from '../../parts/shape/ShapePicture.module.css';
import common from '../../theme/common.module.css';
import { FingersChoice } from './FingersChoice';
import shapesStyles from './Shapes.module.css';

const PART_WORDS: Record<EffortPart, string> = {
  fingers: 'Fingers',
  barre: 'Barre',
  stretch: 'Stretch',
  crowding: 'Crowding',
  'bent joint': 'Bent joint',
  position: 'Up the neck',
  thumb: 'Thumb over the neck',
  mutes: 'Silent strings',
  unusual: 'Not the usual shape',
  silent: 'Plucked strings that are silent',
  rings: 'Open strings that ring on',
};

const ALL = 'all';

/** Holds of a kind, told by its name. */
interface HoldKind {
  name: string;
  holds: (hold: Equivalent) => boolean;
}

/** What holds can be looked at by: their family, where on the neck they are, what stays down from the chord before. */
function kindsOf(holds: readonly Equivalent[], before: Shape | undefined): HoldKind[] {
  const lowest = ({ shape: { grip } }: Equivalent) =>
    grip.length ? Math.min(...grip.map(placement => placement.fret)) : 0;
  const stays = ({ shape }: Equivalent) =>
    before !== undefined && fingerMoves(before.grip, shape.grip).some(move => move.kind === 'stays');
  const kinds: HoldKind[] = [
    { name: ALL, holds: () => true },
    ...FAMILIES.map(
      (family): HoldKind => ({ name: `${family} family`, holds: hold => hold.family === family }),
    ),
    { name: 'with open strings', holds: ({ shape }) => shape.frets.includes(0) },
    { name: 'up to fret 4', holds: hold => lowest(hold) <= 4 },
    { name: 'from fret 5 on', holds: hold => lowest(hold) >= 5 },
    { name: 'a finger stays', holds: stays },
  ];
  return kinds.filter(({ name, holds: has }) => name === ALL || holds.some(has));
}

const isBassWord = (bass: string): bass is 'any' | 'chord' => bass === 'any' || bass === 'chord';

/** One chord: its shape in full, and every other hold with what it changes. */
export function ChordDetail({
  chord,
  before,
  after,
  plan,
  fifths,
  onChoose,
  onFingers,
}: {
  chord: ProgressionChord;
  before: Shape | undefined;
  after: Shape | undefined;
  plan: TunePlan;
  fifths: number;
  onChoose: (shape: Shape | undefined, everywhere: boolean) => void;
  /** Fingers of the shape that is chosen, as text, wherever it comes; those that suit the changes where there are none. */
  onFingers: (fingers: string | undefined) => void;
}) {
  const { setup, hand } = plan;
  const [bass, setBass] = useState('');
  const [shown, setShown] = useState(8);
  const [kind, setKind] = useState(ALL);
  const parsed = parseChord(chord.shape)!;
  const { chosen } = chord;
  const others = useQuery({
    queryKey: [
      'equivalents',
      chord.shape,
      chosen?.frets,
      before?.grip,
      after?.grip,
      setup,
      hand,
      plan.wishes,
      plan.pattern,
      bass,
    ],
    queryFn: (): Promise<Equivalent[]> => {
      const wishes = {
        ...searchWishes(plan),
        ...(bass && { bass: isBassWord(bass) ? bass : Number(bass) }),
      };
      return arranger().equivalentsOf(chosen!, parsed, setup, hand, { before, after }, wishes);
    },
    enabled: chosen !== undefined,
    placeholderData: keepPreviousData,
  });
  const name = (midi: number) => pitchName(spellMidi(midi, fifths), true);
  const heading = (
    <h2>
      {chordLabel(chord.shape)}
      {setup.capo > 0 && <span className={common.quiet}> sounds {chordLabel(chord.sounding)}</span>}
    </h2>
  );
  if (!chosen)
    return (
      <section className={common.panel}>
        {heading}
        <Text size="sm">
          No shape of this chord fits the wishes. Allow a barre, silent inner strings, any bass or higher
          frets, or let the thumb come over the neck.
        </Text>
      </section>
    );
  const notes = shapeNotes(chosen, parsed, setup);
  const { omitted, doubled } = omittedAndDoubled(chosen, parsed, setup);
  const family = familyOf(chosen, parsed, setup);
  const stretch = stretchOf(setup, hand, chosen.grip);
  // With few strings nobody asks for a bass.
  const usualBasses = takesAnyBass(setup)
    ? [
        { value: '', label: 'any bass' },
        { value: 'chord', label: 'bass as named' },
      ]
    : [
        { value: '', label: 'bass as named' },
        { value: 'any', label: 'any bass' },
      ];
  const bassChoices = [
    ...usualBasses,
    ...parsed.degrees.map(d => {
      const pitchClass = (pitchClassOf(parsed.root) + d.semitones) % 12;
      return {
        value: String(pitchClass),
        label: `${pitchName(spellMidi(60 + pitchClass, fifths), true).replace(/\d/, '')} in the bass`,
      };
    }),
  ];
  const kinds = kindsOf(others.data ?? [], before);
  const only = kinds.find(own => own.name === kind) ?? kinds[0]!;
  const listed = (others.data ?? []).filter(only.holds);
  return (
    <>
      <section className={common.panel} aria-label="The chosen shape">
        {heading}
        <Group gap={6} mb={8}>
          <Hear
            label="Hear it"
            request={() => ({ what: 'grips', setup, grips: [chosen.frets], percent: 100 })}
          />
          {before && (
            <Hear
              label="Hear the change"
              request={() => ({
                what: 'grips',
                setup,
                grips: [before.frets, chosen.frets, before.frets, chosen.frets],
                percent: 100,
              })}
            />
          )}
          <PictureButtons
            size="compact-sm"
            of={`.${shapesStyles.chosenGrip}`}
            title={`${chordLabel(chord.shape)} ${shapeText(chosen.frets)}`}
          />
        </Group>
        <div className={shapePictureStyles.withPicture}>
          <figure className={shapesStyles.chosenGrip}>
            <figcaption>{chordLabel(chord.shape)}</figcaption>
            <ShapePicture
              setup={setup}
              frets={chosen.frets}
              grip={chosen.grip}
              under={notes.map(note => note?.degree ?? '')}
              scale={1.3}
            />
          </figure>
          <div>
            <Facts
              facts={[
                [
                  'Notes',
                  notes
                    .map((note, i) => note && `${i + 1}: ${name(note.midi)}`)
                    .filter(Boolean)
                    .reverse()
                    .join(', '),
                ],
                family && ['Family', family],
                omitted.length > 0 && ['Left out', omitted.map(d => `the ${d}`).join(', ')],
                doubled.length > 0 && ['Doubled', doubled.map(d => `the ${d}`).join(', ')],
                stretch.fingers && [
                  'Stretch',
                  `${Math.round(stretch.widest)} of ${Math.round(stretch.limit)} mm, fingers ${stretch.fingers.map(fingerLabel).join(' and ')}`,
                ],
                ...chosen.grip.flatMap((p): [string, string][] => {
                  const kind = barreKind(p, dutiesOf(chosen.frets));
                  return kind
                    ? [['Barre', `${kind}, ${fingerName(p.finger)} on strings ${p.from} to ${p.to}`]]
                    : [];
                }),
                ...muteWords(chosen.frets, chosen.grip, setup).map((words): [string, string] => [
                  'Silent',
                  words,
                ]),
              ]}
            />
            <FingersChoice
              shape={chosen}
              plan={plan}
              chosen={plan.wishes.fingers?.[shapeText(chosen.frets)]}
              onChoose={onFingers}
            />
            <details>
              <summary>Effort {chosen.cost.toFixed(1)}</summary>
              <Facts
                facts={Object.entries(chosen.effort).map(([part, value]): [string, string] => [
                  PART_WORDS[part as EffortPart],
                  value.toFixed(1),
                ])}
              />
            </details>
            {chord.byHand && (
              <Button size="xs" variant="default" mt={6} onClick={() => onChoose(undefined, false)}>
                Unpin: find the best again
              </Button>
            )}
          </div>
        </div>
        {before && (
          <details>
            <summary>Coming here: {changeWords(before.grip, chosen.grip)}</summary>
            <ul className={common.reasons}>
              {fingerMoves(before.grip, chosen.grip).map(move => (
                <li key={move.finger}>{moveWords(setup, move)}</li>
              ))}
            </ul>
          </details>
        )}
      </section>
      <section className={common.panel} aria-label="Other holds">
        <Group justify="space-between" align="center">
          <h2>Other holds</h2>
          <Group gap={6}>
            <Choice
              aria-label="Which of the other holds"
              size="xs"
              w={170}
              options={kinds.map(kind => ({
                value: kind.name,
                label: `${kind.name} (${(others.data ?? []).filter(kind.holds).length})`,
              }))}
              value={only.name}
              onChange={value => {
                setKind(value);
                setShown(8);
              }}
            />
            <Choice
              aria-label="Bass of the other holds"
              size="xs"
              w={140}
              options={bassChoices}
              value={bass}
              onChange={setBass}
            />
          </Group>
        </Group>
        {others.error && <Text size="sm">{others.error.message}</Text>}
        {others.data?.length === 0 && <Text size="sm">None under these wishes.</Text>}
        {listed.length > 1 && (
          <Text size="sm" className={common.quiet}>
            Known forms first, what only leaves strings out last.
          </Text>
        )}
        <ol className={shapesStyles.holds}>
          {listed.slice(0, shown).map(e => (
            <li key={shapeText(e.shape.frets)}>
              <ShapePicture setup={setup} frets={e.shape.frets} grip={e.shape.grip} scale={0.8} />
              <div>
                <b>{shapeText(e.shape.frets)}</b>{' '}
                {e.family && <span className={common.quiet}>{e.family} family</span>}
                <div className={common.quiet}>{differences(e, chosen, before, after, name)}</div>
                <Group gap={6} mt={4}>
                  <Button size="compact-xs" variant="default" onClick={() => onChoose(e.shape, false)}>
                    Use here
                  </Button>
                  <Button size="compact-xs" variant="default" onClick={() => onChoose(e.shape, true)}>
                    For every {chordLabel(chord.shape)}
                  </Button>
                </Group>
              </div>
            </li>
          ))}
        </ol>
        {listed.length > shown && (
          <Button size="xs" variant="default" onClick={() => setShown(shown + 12)}>
            More of {listed.length}
          </Button>
        )}
      </section>
    </>
  );
}

/** What another hold gains and costs against the present one, in words. */
function differences(
  e: Equivalent,
  present: Shape,
  before: Shape | undefined,
  after: Shape | undefined,
  name: (midi: number) => string,
): string {
  const words: string[] = [];
  if (e.relation !== 'same chord') words.push(e.relation);
  const ease = heldEffort(e.shape) - heldEffort(present);
  words.push(
    Math.abs(ease) < 0.05
      ? 'as easy'
      : `${Math.abs(ease).toFixed(1)} ${ease < 0 ? 'easier' : 'harder'} to hold`,
  );
  if (e.shape.effort.unusual && !present.effort.unusual) words.push('not the usual shape');
  if (e.barres) words.push(e.barres > 0 ? 'a barre more' : 'without the barre');
  if (e.fingers)
    words.push(
      `${Math.abs(e.fingers)} finger${Math.abs(e.fingers) > 1 ? 's' : ''} ${e.fingers > 0 ? 'more' : 'fewer'}`,
    );
  if (Math.abs(e.stretch) >= 5)
    words.push(`${Math.round(Math.abs(e.stretch))} mm ${e.stretch > 0 ? 'wider' : 'closer'}`);
  if (e.mutes)
    words.push(
      `${Math.abs(e.mutes)} silent string${Math.abs(e.mutes) > 1 ? 's' : ''} ${e.mutes > 0 ? 'more' : 'fewer'}`,
    );
  if (e.added.length) words.push(`adds ${e.added.map(name).join(' ')}`);
  if (e.given.length) words.push(`gives up ${e.given.map(name).join(' ')}`);
  if (before) words.push(`coming: ${e.fromWords} (${e.from.toFixed(1)})`);
  if (after) words.push(`going: ${e.toWords} (${e.to.toFixed(1)})`);
  return words.join('; ');
}

function Facts({
  facts,
}: {
  facts: (readonly [string, string] | false | undefined | [string, ReactNode])[];
}) {
  return (
    <dl className={shapesStyles.factsList}>
      {facts.map(
        (fact, i) =>
          fact && (
            <div key={`${fact[0]}-${i}`}>
              <dt>{fact[0]}</dt>
              <dd>{fact[1]}</dd>
            </div>
          ),
      )}
    </dl>
  );
}
