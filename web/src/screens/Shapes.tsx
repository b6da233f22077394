import { Alert, Button, Group, Loader, Select, Text } from '@mantine/core';
import { IconArrowBackUp, IconPrinter } from '@tabler/icons-react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { type Progression, type ProgressionChord, searchWishes, type TunePlan } from '#core/capo';
import { chordLabel, parseChord } from '#core/chord';
import {
  barreKind,
  changeWords,
  type EffortPart,
  fingerLabel,
  fingerMoves,
  fingerName,
  guideFingers,
  moveWords,
  stretchOf,
} from '#core/hand';
import { type Setup, tuningName } from '#core/instrument';
import { keyFifths, keyName, pitchClassOf, pitchName, spellMidi, transposeKey } from '#core/pitch';
import {
  dutiesOf,
  type Equivalent,
  familyOf,
  fingeringsOf,
  muteWords,
  omittedAndDoubled,
  type Shape,
  shapeFingers,
  shapeNotes,
  shapeText,
} from '#core/shape';
import { measureNumbers, type Tune } from '#core/tune';
import { useArrangements } from '../data/queries';
import { useTunePlan } from '../engine/useTunePlan';
import { arranger } from '../engine/workers';
import { Masthead } from '../parts/Masthead';
import { NameAShape } from '../parts/NameAShape';
import { ShapePicture } from '../parts/ShapePicture';
import { ShapeWishes } from '../parts/ShapeWishes';
import { TuneGate } from '../parts/TuneGate';

export function ShapesScreen() {
  return <TuneGate>{(tune, revision) => <Shapes key={tune.id} tune={tune} revision={revision} />}</TuneGate>;
}

/** The progression of a tune under its plan, computed beside the screen. */
export function useProgression(tune: Tune, revision: number, plan: TunePlan, ready: boolean) {
  return useQuery({
    queryKey: ['progression', tune.id, revision, plan],
    queryFn: (): Promise<Progression> => arranger().planShapes(tune, plan),
    enabled: ready,
    placeholderData: keepPreviousData,
  });
}

const PART_WORDS: Record<EffortPart, string> = {
  fingers: 'Fingers',
  barre: 'Barre',
  stretch: 'Stretch',
  crowding: 'Crowding',
  'bent joint': 'Bent joint',
  position: 'Up the neck',
  thumb: 'Thumb over the neck',
  mutes: 'Silent strings',
};

function Shapes({ tune, revision }: { tune: Tune; revision: number }) {
  const { plan, pending, change, undo, canUndo } = useTunePlan(tune.id);
  const arrangements = useArrangements(tune.id);
  const found = useProgression(tune, revision, plan, !pending);
  const [selected, setSelected] = useState(0);
  const chords = found.data?.chords ?? [];
  const current = chords[selected];
  const numbers = measureNumbers(tune.measures);
  const { setup } = plan;
  const soundingKey = transposeKey(tune.key, plan.transposition);
  const shapeKey = transposeKey(soundingKey, -setup.capo);
  const choose = (chord: ProgressionChord, shape: Shape | undefined, everywhere: boolean) => {
    const choices = { ...plan.choices };
    const numbersToSet = everywhere
      ? chords.filter(c => c.shape === chord.shape).flatMap(c => c.numbers)
      : chord.numbers;
    for (const number of numbersToSet) {
      if (shape) choices[number] = shapeText(shape.frets);
      else delete choices[number];
    }
    change({ choices });
  };
  return (
    <div className="frame">
      <Masthead
        title={tune.title}
        under={`Shapes · ${keyName(shapeKey)} shapes${setup.capo ? `, capo ${setup.capo}, sounds ${keyName(soundingKey)}` : ''} · ${tuningName(setup)}`}
        rail={{
          tune: `/tune/${tune.id}`,
          workbench: arrangements.data?.[0] && `/arrangement/${arrangements.data[0].id}`,
        }}
      >
        <Button
          variant="transparent"
          c="inherit"
          disabled={!canUndo}
          leftSection={<IconArrowBackUp size={18} />}
          onClick={undo}
        >
          Undo
        </Button>
        <Button
          component={Link}
          to={`/tune/${tune.id}/chords`}
          color="marigold.6"
          leftSection={<IconPrinter size={18} />}
        >
          Chord sheet
        </Button>
      </Masthead>
      <ShapeWishes plan={plan} change={change} />
      <main className="shapes">
        <div className="strip">
          {found.error && <Alert color="cranberry">{found.error.message}</Alert>}
          {found.isPending && <Loader />}
          {found.data && !chords.length && (
            <Alert color="velvet" title="No chords yet">
              This tune has no chord symbols. Write them over the notes in its source, or let the arrangement
              suggest some.
            </Alert>
          )}
          {chords.length > 0 && (
            <>
              <p className="quiet">
                Effort of a chord with its change: {found.data!.total.toFixed(1)} on average; hardest change{' '}
                {found.data!.worst.toFixed(1)}.
              </p>
              <ol className="progression">
                {chords.map((chord, i) => (
                  <ProgressionCard
                    key={chord.numbers[0]}
                    chord={chord}
                    before={chords[i - 1]}
                    measure={numbers[chord.measure]!}
                    setup={setup}
                    selected={i === selected}
                    onSelect={() => setSelected(i)}
                  />
                ))}
              </ol>
            </>
          )}
        </div>
        <div className="detail stack">
          {current && (
            <ChordDetail
              key={`${selected}-${current.shape}`}
              chord={current}
              before={chords[selected - 1]?.chosen}
              after={chords[selected + 1]?.chosen}
              plan={plan}
              fifths={keyFifths(shapeKey)}
              onChoose={(shape, everywhere) => choose(current, shape, everywhere)}
            />
          )}
          <NameAShape setup={setup} fifths={keyFifths(shapeKey)} />
        </div>
      </main>
    </div>
  );
}

function ProgressionCard({
  chord,
  before,
  measure,
  setup,
  selected,
  onSelect,
}: {
  chord: ProgressionChord;
  before: ProgressionChord | undefined;
  measure: number;
  setup: Setup;
  selected: boolean;
  onSelect: () => void;
}) {
  const { chosen } = chord;
  const guides = before?.chosen && chosen ? guideFingers(before.chosen.grip, chosen.grip) : [];
  return (
    <li>
      {before && (
        <div className="moves">
          <span aria-hidden="true">→</span>
          {before.chosen && chosen ? (
            <>
              <span>{changeWords(before.chosen.grip, chosen.grip)}</span>
              {guides.length > 0 && <small>guide: {guides.map(fingerLabel).join(', ')}</small>}
              <small>{chord.change.toFixed(1)}</small>
            </>
          ) : null}
        </div>
      )}
      <button
        type="button"
        className={`shape-card${selected ? ' looked' : ''}`}
        aria-pressed={selected}
        onClick={onSelect}
        aria-label={`${chordLabel(chord.shape)}, measure ${measure}${chosen ? `, ${shapeText(chosen.frets)}` : ', no shape'}${chord.byHand ? ', chosen by hand' : ''}`}
      >
        <span className="where">{measure === 0 ? 'pickup' : `measure ${measure}`}</span>
        <b>{chordLabel(chord.shape)}</b>
        {setup.capo > 0 && <small>sounds {chordLabel(chord.sounding)}</small>}
        {chosen ? (
          <ShapePicture setup={setup} frets={chosen.frets} grip={chosen.grip} />
        ) : (
          <span className="no-shape">✕ no shape under these wishes</span>
        )}
        <small>{chord.byHand ? 'pinned' : chosen ? `effort ${chosen.cost.toFixed(1)}` : ''}</small>
      </button>
    </li>
  );
}

/** One chord: its shape in full, and every other hold with what it changes. */
function ChordDetail({
  chord,
  before,
  after,
  plan,
  fifths,
  onChoose,
}: {
  chord: ProgressionChord;
  before: Shape | undefined;
  after: Shape | undefined;
  plan: TunePlan;
  fifths: number;
  onChoose: (shape: Shape | undefined, everywhere: boolean) => void;
}) {
  const { setup, hand } = plan;
  const [bass, setBass] = useState('');
  const [shown, setShown] = useState(8);
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
      bass,
    ],
    queryFn: (): Promise<Equivalent[]> => {
      const wishes = {
        ...searchWishes(plan.wishes),
        ...(bass && { bass: bass === 'any' ? ('any' as const) : Number(bass) }),
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
      {setup.capo > 0 && <span className="quiet"> sounds {chordLabel(chord.sounding)}</span>}
    </h2>
  );
  if (!chosen)
    return (
      <section className="panel">
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
  const fingerings = fingeringsOf(chosen.frets, setup, hand);
  const own = shapeFingers(chosen).join();
  const nextBest = fingerings.find(f => shapeFingers({ frets: chosen.frets, grip: f.grip }).join() !== own);
  const stretch = stretchOf(setup, hand, chosen.grip);
  const bassChoices = [
    { value: '', label: 'bass as named' },
    { value: 'any', label: 'any bass' },
    ...parsed.degrees.map(d => {
      const pitchClass = (pitchClassOf(parsed.root) + d.semitones) % 12;
      return {
        value: String(pitchClass),
        label: `${pitchName(spellMidi(60 + pitchClass, fifths), true).replace(/\d/, '')} in the bass`,
      };
    }),
  ];
  return (
    <>
      <section className="panel" aria-label="The chosen shape">
        {heading}
        <div className="with-picture">
          <ShapePicture
            setup={setup}
            frets={chosen.frets}
            grip={chosen.grip}
            under={notes.map(note => note?.degree ?? '')}
            scale={1.3}
          />
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
                nextBest && [
                  'Or fingers',
                  `${shapeFingers({ frets: chosen.frets, grip: nextBest.grip })
                    .map(f => (f ? fingerLabel(f) : '–'))
                    .reverse()
                    .join(' ')} (strings ${setup.tuning.length} to 1), effort ${nextBest.cost.toFixed(1)}`,
                ],
              ]}
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
            <ul className="reasons">
              {fingerMoves(before.grip, chosen.grip).map(move => (
                <li key={move.finger}>{moveWords(setup, move)}</li>
              ))}
            </ul>
          </details>
        )}
      </section>
      <section className="panel" aria-label="Other holds">
        <Group justify="space-between" align="center">
          <h2>Other holds</h2>
          <Select
            aria-label="Bass of the other holds"
            size="xs"
            w={140}
            data={bassChoices}
            value={bass}
            allowDeselect={false}
            onChange={v => setBass(v ?? '')}
          />
        </Group>
        {others.error && <Text size="sm">{others.error.message}</Text>}
        {others.data?.length === 0 && <Text size="sm">None under these wishes.</Text>}
        <ol className="holds">
          {others.data?.slice(0, shown).map(e => (
            <li key={shapeText(e.shape.frets)}>
              <ShapePicture setup={setup} frets={e.shape.frets} grip={e.shape.grip} scale={0.8} />
              <div>
                <b>{shapeText(e.shape.frets)}</b>{' '}
                {e.family && <span className="quiet">{e.family} family</span>}
                <div className="quiet">{differences(e, chosen, before, after, name)}</div>
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
        {(others.data?.length ?? 0) > shown && (
          <Button size="xs" variant="default" onClick={() => setShown(shown + 12)}>
            More of {others.data!.length}
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
  const ease = e.shape.cost - present.cost;
  words.push(
    Math.abs(ease) < 0.05
      ? 'as easy'
      : `${Math.abs(ease).toFixed(1)} ${ease < 0 ? 'easier' : 'harder'} to hold`,
  );
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
    <dl className="facts-list">
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
