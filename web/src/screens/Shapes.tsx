import { Alert, Button, Group, Loader, NumberInput, Select, Switch, Text, TextInput } from '@mantine/core';
import { IconArrowBackUp, IconPrinter } from '@tabler/icons-react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link, useParams } from 'react-router';
import { type Progression, type ProgressionChord, searchWishes, type TunePlan } from '#core/capo';
import { chordLabel, parseChord } from '#core/chord';
import {
  barreKind,
  changeWords,
  type EffortPart,
  type Finger,
  fingerLabel,
  fingerMoves,
  fingerName,
  guideFingers,
  moveWords,
  stretchOf,
} from '#core/hand';
import { noteAt, type Setup, stringName, tuningName } from '#core/instrument';
import { keyFifths, keyName, pitchClassOf, pitchName, spellMidi, transposeKey } from '#core/pitch';
import {
  dutiesOf,
  type Equivalent,
  familyOf,
  fingeringsOf,
  muteWords,
  nameShape,
  omittedAndDoubled,
  parseShapeText,
  type Shape,
  shapeFingers,
  shapeNotes,
  shapeText,
} from '#core/shape';
import { measureNumbers, type Tune } from '#core/tune';
import { useArrangements, useTune } from '../data/queries';
import { type PlanPatch, useTunePlan } from '../engine/useTunePlan';
import { arranger } from '../engine/workers';
import { Masthead } from '../parts/Masthead';
import { ShapePicture, useLeftHanded } from '../parts/ShapePicture';
import { NotFound } from './NotFound';

export function ShapesScreen() {
  const { tuneId } = useParams();
  const stored = useTune(tuneId);
  if (stored.isPending) return <Loader m="xl" />;
  if (!stored.data) return <NotFound what="tune" />;
  return <Shapes key={tuneId} tune={stored.data.tune} revision={stored.data.revision} />;
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
      <Wishes plan={plan} change={change} />
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

function Wishes({ plan, change }: { plan: TunePlan; change: (patch: PlanPatch) => void }) {
  const [leftHanded, setLeftHanded] = useLeftHanded();
  const { wishes, setup } = plan;
  const wish = (patch: { [K in keyof TunePlan['wishes']]?: TunePlan['wishes'][K] | undefined }) => {
    const next = Object.entries({ ...wishes, ...patch }).filter(
      ([, value]) => value !== undefined && value !== false && !(Array.isArray(value) && !value.length),
    );
    change({ wishes: Object.fromEntries(next) });
  };
  const number = (
    name: 'maxStretch' | 'minFret' | 'maxFret' | 'minStrings',
    label: string,
    low: number,
    high: number,
    width: number,
  ) => (
    <NumberInput
      size="xs"
      label={label}
      w={width}
      min={low}
      max={high}
      placeholder="any"
      hideControls
      value={wishes[name] ?? ''}
      onChange={v => wish({ [name]: typeof v === 'number' && v >= low && v <= high ? v : undefined })}
    />
  );
  return (
    <section className="wishes" aria-label="Wishes for all shapes">
      <Switch
        label="No barre"
        checked={wishes.noBarre ?? false}
        onChange={e => wish({ noBarre: e.currentTarget.checked })}
      />
      <Switch
        label="Thumb over the neck"
        checked={plan.hand.thumb ?? false}
        onChange={e => change({ hand: { ...plan.hand, thumb: e.currentTarget.checked } })}
      />
      <Switch
        label="Inner strings may be silent"
        checked={wishes.innerMutes ?? false}
        onChange={e => wish({ innerMutes: e.currentTarget.checked })}
      />
      <Switch
        label="Any bass"
        checked={wishes.anyBass ?? false}
        onChange={e => wish({ anyBass: e.currentTarget.checked })}
      />
      <Switch
        label="Left-handed pictures"
        checked={leftHanded}
        onChange={e => setLeftHanded(e.currentTarget.checked)}
      />
      <Select
        size="xs"
        label="Keep free"
        w={100}
        data={[
          { value: '', label: 'no finger' },
          ...['1', '2', '3', '4'].map(f => ({ value: f, label: `finger ${f}` })),
        ]}
        value={String(wishes.freeFingers?.[0] ?? '')}
        allowDeselect={false}
        onChange={v => wish({ freeFingers: v ? [Number(v) as Finger] : [] })}
      />
      <Select
        size="xs"
        label="Ringing open"
        w={120}
        data={[
          { value: '', label: 'no string' },
          ...setup.tuning.map((_, i) => ({ value: String(i + 1), label: stringName(setup, i + 1) })),
        ]}
        value={String(wishes.openStrings?.[0] ?? '')}
        allowDeselect={false}
        onChange={v => wish({ openStrings: v ? [Number(v)] : [] })}
      />
      {number('maxStretch', 'Stretch up to, mm', 20, 200, 110)}
      {number('minFret', 'From fret', 1, 20, 70)}
      {number('maxFret', 'To fret', 1, 24, 70)}
      {number('minStrings', 'Strings at least', 1, setup.tuning.length, 100)}
      <Select
        size="xs"
        label="Find the way with"
        w={180}
        data={[
          { value: 'total', label: 'least effort in all' },
          { value: 'worst', label: 'the easiest worst change' },
        ]}
        value={wishes.goal ?? 'total'}
        allowDeselect={false}
        onChange={v => wish({ goal: v === 'worst' ? 'worst' : undefined })}
      />
    </section>
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

/** A shape typed or clicked, and the names of the chord it sounds. */
function NameAShape({ setup, fifths }: { setup: Setup; fifths: number }) {
  const [text, setText] = useState('');
  const parsed = text.trim() ? parseShapeText(text, setup) : undefined;
  const frets = parsed && !('error' in parsed) ? parsed : undefined;
  const shown = frets ?? setup.tuning.map(() => 0);
  const names = frets ? nameShape(frets, setup, fifths) : [];
  const grip = frets ? (fingeringsOf(frets, setup, { size: 'large', thumb: true })[0]?.grip ?? []) : [];
  return (
    <section className="panel" aria-label="Name a shape">
      <h2>What chord is this?</h2>
      <div className="with-picture">
        <ShapePicture
          setup={setup}
          frets={shown}
          grip={grip.length ? grip : dots(shown)}
          onPick={(string, fret) => setText(shapeText(shown.map((f, i) => (i + 1 === string ? fret : f))))}
        />
        <div>
          <TextInput
            label={`Frets, strings ${setup.tuning.length} to 1`}
            placeholder="x32010"
            value={text}
            error={
              parsed && 'error' in parsed && text.length >= setup.tuning.length ? parsed.error : undefined
            }
            onChange={event => setText(event.currentTarget.value)}
          />
          <Text size="sm" c="dimmed" mt={4}>
            Type frets, x for silent, or click in the picture.
          </Text>
          <ol className="names-found" aria-live="polite">
            {names.slice(0, 4).map(n => (
              <li key={n.chord.symbol}>
                <b>{chordLabel(n.chord.symbol)}</b>{' '}
                {n.remarks.length > 0 && <span className="quiet">{n.remarks.join(', ')}</span>}
              </li>
            ))}
          </ol>
          {frets && !names.length && (
            <Text size="sm">No chord name: fewer than two different notes, or none that fits.</Text>
          )}
          {frets && (
            <Text size="sm" c="dimmed">
              {frets
                .map((f, i) =>
                  f === null ? '' : pitchName(spellMidi(noteAt(setup, i + 1, f) - setup.capo, fifths), true),
                )
                .reverse()
                .filter(Boolean)
                .join(' ')}
            </Text>
          )}
        </div>
      </div>
    </section>
  );
}

/** Held strings as bare dots, where no hand could hold them. */
function dots(frets: readonly (number | null)[]) {
  return frets.flatMap((fret, i) => (fret ? [{ finger: 1 as Finger, fret, from: i + 1, to: i + 1 }] : []));
}
