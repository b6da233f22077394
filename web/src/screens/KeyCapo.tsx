import { Alert, Button, Group, Loader, NumberInput, Select, Switch, Text } from '@mantine/core';
import { IconArrowBackUp } from '@tabler/icons-react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type KeyboardEvent, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import {
  bandView,
  capoChart,
  HIGHEST_CAPO,
  type KeyPlan,
  type KeyWishes,
  type PlanPart,
  type Progression,
  smallestCapoFor,
  type TunePlan,
  VOICE_TYPES,
  type VoiceType,
  wayBack,
} from '#core/capo';
import { chordLabel } from '#core/chord';
import { keyName, keyShort, pitchClassOf, pitchName, prettyAccidentals, spellMidi } from '#core/pitch';
import { melodyRange, type Tune } from '#core/tune';
import { useArrangements } from '../data/queries';
import { type PlanPatch, useTunePlan } from '../engine/useTunePlan';
import { arranger } from '../engine/workers';
import { Masthead } from '../parts/Masthead';
import { RangeChart } from '../parts/RangeChart';
import { SetupPanel } from '../parts/SetupPanel';
import { TuneGate } from '../parts/TuneGate';

export function KeyCapoScreen() {
  return <TuneGate>{(tune, revision) => <KeyCapo key={tune.id} tune={tune} revision={revision} />}</TuneGate>;
}

/** Shape keys in the order in which players learn them: round the circle of fifths from C, sharps first. */
const ROWS = ['C', 'G', 'D', 'A', 'E', 'B', 'F#', 'Db', 'Ab', 'Eb', 'Bb', 'F'].map(pitchClassOf);
const FRETS = Array.from({ length: HIGHEST_CAPO + 1 }, (_, fret) => fret);

const PART_WORDS: Record<PlanPart, string> = {
  shapes: 'Holding the shapes',
  changes: 'Changing between them',
  voice: 'Voice',
  melody: 'Melody on the strings',
  bass: 'Roots not on open strings',
  capo: 'Height of the capo',
  pitch: 'Away from the wanted pitch',
  tuning: 'Tuning',
};

type Mark = 'well' | 'works' | 'hard' | 'out';
const MARKS: Record<Mark, { sign: string; words: string }> = {
  well: { sign: '●', words: 'sits well' },
  works: { sign: '◐', words: 'works' },
  hard: { sign: '○', words: 'hard' },
  out: { sign: '✕', words: "won't do" },
};

/** How a plan compares with the best one: effort above it, or out of voice or pitch. */
function markOf(plan: KeyPlan, best: number, targeted: boolean): Mark {
  if ((plan.voice && plan.voice.below + plan.voice.above > 0) || (targeted && plan.parts.pitch > 0))
    return 'out';
  const above = plan.cost - best;
  return above <= 1.5 ? 'well' : above <= 4 ? 'works' : 'hard';
}

const cellName = (plan: KeyPlan) =>
  `${keyName(plan.shapeKey)} shapes, ${plan.setup.capo ? `capo ${plan.setup.capo}` : 'no capo'}`;

function KeyCapo({ tune, revision }: { tune: Tune; revision: number }) {
  const { plan, pending, settled, change, undo, canUndo } = useTunePlan(tune.id);
  const arrangements = useArrangements(tune.id);
  const [looked, setLooked] = useState<string>();
  const [beside, setBeside] = useState<string>();
  const grid = useRef<HTMLTableElement>(null);
  const wishes = useMemo<KeyWishes>(
    () => ({
      setup: { ...plan.setup, capo: 0 },
      hand: plan.hand,
      ...(plan.voice && { voice: plan.voice }),
      ...(plan.target && { target: plan.target }),
      ...(plan.wishes.noBarre && { noBarre: true }),
    }),
    [plan],
  );
  const table = useQuery({
    queryKey: ['key-table', tune.id, revision, wishes],
    queryFn: () => arranger().planKeys(tune, wishes),
    enabled: !pending,
    placeholderData: keepPreviousData,
  });
  const plans = table.data ?? [];
  const idOf = (p: KeyPlan) => `${p.transposition}:${p.setup.capo}`;
  const byId = new Map(plans.map(p => [idOf(p), p]));
  const taken = settled ? byId.get(`${plan.transposition}:${plan.setup.capo}`) : undefined;
  const current = (looked && byId.get(looked)) || taken || plans[0];
  const other = beside === undefined ? undefined : byId.get(beside);
  const range = melodyRange(tune);
  const minor = tune.key.mode === 'minor';
  const best = plans[0]?.cost ?? 0;
  const take = (p: KeyPlan) =>
    change({ setup: { ...plan.setup, capo: p.setup.capo }, transposition: p.transposition, choices: {} });

  const rowOf = (p: KeyPlan) => ROWS.indexOf(pitchClassOf(p.shapeKey.tonic));
  const cells = new Map(plans.map(p => [`${rowOf(p)}:${p.setup.capo}`, p]));
  const onKeys = (event: KeyboardEvent) => {
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const move = moves[event.key];
    if (!move || !current) return;
    event.preventDefault();
    let row = rowOf(current);
    let fret = current.setup.capo;
    for (let step = 0; step < 12; step++) {
      row = (row + move[0] + ROWS.length) % ROWS.length;
      fret = (fret + move[1] + FRETS.length) % FRETS.length;
      const next = cells.get(`${row}:${fret}`);
      if (!next) continue;
      setLooked(idOf(next));
      grid.current?.querySelector<HTMLButtonElement>(`[data-cell="${idOf(next)}"]`)?.focus();
      return;
    }
  };

  return (
    <div className="frame">
      <Masthead
        title={tune.title}
        under={`Key & capo · ${taken ? `${cellName(taken)}, sounds ${keyName(taken.soundingKey)}` : 'nothing chosen yet'}`}
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
      </Masthead>
      <main className="planner">
        <div className="stack side-panels">
          <VoicePanel tune={tune} plan={plan} change={change} />
          <SetupPanel plan={plan} change={change} />
        </div>
        <div className="field">
          {table.error && <Alert color="cranberry">{table.error.message}</Alert>}
          {table.isPending && <Loader />}
          {table.data && !plans.length && (
            <Alert color="cranberry" title="No key fits">
              The melody's range does not fit this instrument in any key. Choose another instrument or tuning,
              or move part of the tune an octave in its source.
            </Alert>
          )}
          {plans.length > 0 && (
            <>
              <table className="key-field" ref={grid} onKeyDown={onKeys}>
                <caption>
                  Shapes down, capo across; in each field what then sounds. {MARKS.well.sign} sits well,{' '}
                  {MARKS.works.sign} works, {MARKS.hard.sign} hard, {MARKS.out.sign} out of voice or pitch.
                </caption>
                <thead>
                  <tr>
                    <th scope="col">Shapes</th>
                    {FRETS.map(fret => (
                      <th scope="col" key={fret}>
                        {fret === 0 ? 'open' : fret}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {ROWS.map((tonic, row) => {
                    const any = plans.find(p => pitchClassOf(p.shapeKey.tonic) === tonic);
                    return (
                      <tr key={tonic}>
                        <th scope="row">
                          {any ? keyShort({ ...any.shapeKey, mode: minor ? 'minor' : 'major' }) : ''}
                        </th>
                        {FRETS.map(fret => {
                          const cell = cells.get(`${row}:${fret}`);
                          if (!cell) return <td key={fret} />;
                          const mark = markOf(cell, best, Boolean(plan.target));
                          const rank = plans.indexOf(cell) + 1;
                          const id = idOf(cell);
                          return (
                            <td key={fret}>
                              <button
                                type="button"
                                data-cell={id}
                                tabIndex={cell === current ? 0 : -1}
                                aria-pressed={cell === current}
                                className={`key-cell ${mark}${cell === current ? ' looked' : ''}${cell === taken ? ' taken' : ''}`}
                                aria-label={`${cellName(cell)}: sounds ${keyName(cell.soundingKey)}, ${MARKS[mark].words}, effort ${cell.cost.toFixed(1)}${rank <= 3 ? `, choice ${rank}` : ''}${cell === taken ? ', taken' : ''}`}
                                onClick={() => setLooked(id)}
                                onDoubleClick={() => take(cell)}
                              >
                                <span className="mark">{MARKS[mark].sign}</span>
                                <b>{keyShort({ ...cell.soundingKey, mode: minor ? 'minor' : 'major' })}</b>
                                {rank <= 3 && <span className="rank">{rank}</span>}
                              </button>
                            </td>
                          );
                        })}
                      </tr>
                    );
                  })}
                </tbody>
              </table>
              {current && range && <RangeChart plan={current} voice={plan.voice} melody={range} />}
              {current && <CapoNotes key={idOf(current)} tune={tune} plan={plan} cell={current} />}
            </>
          )}
        </div>
        <div className="stack detail">
          <section className="panel" aria-label="Best choices">
            <h2>Best choices</h2>
            <ol className="best">
              {plans.slice(0, 5).map(p => (
                <li key={idOf(p)}>
                  <button
                    type="button"
                    className={p === current ? 'looked' : ''}
                    onClick={() => setLooked(idOf(p))}
                  >
                    {keyShort(p.shapeKey)} shapes, {p.setup.capo ? `capo ${p.setup.capo}` : 'no capo'}{' '}
                    <span className="quiet">sounds {keyShort(p.soundingKey)}</span>
                  </button>
                </li>
              ))}
            </ol>
          </section>
          {current && (
            <PlanDetail
              cell={current}
              mark={markOf(current, best, Boolean(plan.target))}
              taken={current === taken}
              onTake={() => take(current)}
              onBeside={() => setBeside(idOf(current))}
            />
          )}
          {current && other && other !== current && (
            <Compared a={other} b={current} onClose={() => setBeside(undefined)} />
          )}
          {taken && (
            <Button component={Link} to={`/tune/${tune.id}/shapes`} variant="default">
              On to the shapes
            </Button>
          )}
        </div>
      </main>
    </div>
  );
}

const pitchChoices = Array.from({ length: 49 }, (_, i) => 36 + i).map(midi => ({
  value: String(midi),
  label: pitchName(spellMidi(midi, 0), true),
}));

function VoicePanel({
  tune,
  plan,
  change,
}: {
  tune: Tune;
  plan: TunePlan;
  change: (patch: PlanPatch) => void;
}) {
  const { voice, target } = plan;
  const kind = voice ? (voice.type ?? 'own') : 'none';
  return (
    <section className="panel stack" aria-label="Voice and pitch">
      <Select
        label="Voice"
        data={[
          { value: 'none', label: 'Nobody sings' },
          ...Object.entries(VOICE_TYPES).map(([value, v]) => ({ value, label: v.name })),
          { value: 'own', label: 'By lowest and highest note' },
        ]}
        value={kind}
        allowDeselect={false}
        onChange={v => {
          if (v === 'none') change({ voice: undefined });
          else if (v === 'own') change({ voice: { low: voice?.low ?? 57, high: voice?.high ?? 74 } });
          else if (v) {
            const { low, high } = VOICE_TYPES[v as VoiceType];
            change({ voice: { type: v as VoiceType, low, high } });
          }
        }}
      />
      {voice && (
        <Group grow gap={8}>
          <Select
            label="Lowest comfortable"
            data={pitchChoices.filter(p => Number(p.value) < voice.high)}
            value={String(voice.low)}
            allowDeselect={false}
            onChange={v => v && change({ voice: { low: Number(v), high: voice.high } })}
          />
          <Select
            label="Highest comfortable"
            data={pitchChoices.filter(p => Number(p.value) > voice.low)}
            value={String(voice.high)}
            allowDeselect={false}
            onChange={v => v && change({ voice: { low: voice.low, high: Number(v) } })}
          />
        </Group>
      )}
      <Select
        label="Sounding key"
        data={[
          {
            value: 'any',
            label: voice ? 'Any that suits the voice' : `Near the written ${keyName(tune.key)}`,
          },
          ...['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'].map(tonic => ({
            value: tonic,
            label: `Must sound in ${prettyAccidentals(tonic)}`,
          })),
        ]}
        value={target?.tonic ?? 'any'}
        allowDeselect={false}
        onChange={v =>
          v &&
          change(v === 'any' ? { target: undefined } : { target: { tonic: v, within: target?.within ?? 0 } })
        }
      />
      {target && (
        <NumberInput
          label="Give or take, semitones"
          min={0}
          max={6}
          value={target.within}
          onChange={v =>
            typeof v === 'number' && change({ target: { ...target, within: Math.min(6, Math.max(0, v)) } })
          }
        />
      )}
      <Switch
        label="No barre"
        checked={plan.wishes.noBarre ?? false}
        onChange={event => change({ wishes: { ...plan.wishes, noBarre: event.currentTarget.checked } })}
      />
    </section>
  );
}

/** The parts of a plan's effort, longest bar for the largest. */
function Parts({ cell, most }: { cell: KeyPlan; most: number }) {
  return (
    <table className="parts">
      <tbody>
        {(Object.keys(PART_WORDS) as PlanPart[])
          .filter(part => cell.parts[part] >= 0.05)
          .map(part => (
            <tr key={part}>
              <th scope="row">{PART_WORDS[part]}</th>
              <td>
                <div className="bar" style={{ width: `${(100 * cell.parts[part]) / most}%` }} />
              </td>
              <td>{cell.parts[part].toFixed(1)}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

function PlanDetail({
  cell,
  mark,
  taken,
  onTake,
  onBeside,
}: {
  cell: KeyPlan;
  mark: Mark;
  taken: boolean;
  onTake: () => void;
  onBeside: () => void;
}) {
  return (
    <section className="panel" aria-label="The choice looked at" aria-live="polite">
      <h2>{cellName(cell)}</h2>
      <Text size="sm" mb={6}>
        {MARKS[mark].sign} {MARKS[mark].words} · effort {cell.cost.toFixed(1)}
      </Text>
      <Group gap={8} mb={10}>
        <Button color="marigold.6" onClick={onTake} disabled={taken}>
          {taken ? 'Taken' : 'Take this'}
        </Button>
        <Button variant="default" onClick={onBeside}>
          Set beside another
        </Button>
      </Group>
      <ul className="reasons">
        {cell.reasons.map(reason => (
          <li key={reason}>{reason}</li>
        ))}
      </ul>
      <details>
        <summary>What the effort is made of</summary>
        <Parts cell={cell} most={Math.max(...Object.values(cell.parts))} />
      </details>
    </section>
  );
}

function Compared({ a, b, onClose }: { a: KeyPlan; b: KeyPlan; onClose: () => void }) {
  const parts = (Object.keys(PART_WORDS) as PlanPart[]).filter(
    part => a.parts[part] >= 0.05 || b.parts[part] >= 0.05,
  );
  const rows: [string, string, string][] = [
    ['Sounds in', keyName(a.soundingKey), keyName(b.soundingKey)],
    ['Barre', `${Math.round(100 * a.barre)} %`, `${Math.round(100 * b.barre)} %`],
    ['Widest stretch', `${Math.round(a.stretch)} mm`, `${Math.round(b.stretch)} mm`],
    ['Highest melody fret', String(a.melody.highestFret), String(b.melody.highestFret)],
    ...parts.map((part): [string, string, string] => [
      PART_WORDS[part],
      a.parts[part].toFixed(1),
      b.parts[part].toFixed(1),
    ]),
    ['Effort in all', a.cost.toFixed(1), b.cost.toFixed(1)],
  ];
  return (
    <section className="panel" aria-label="Two choices side by side">
      <h2>Side by side</h2>
      <table className="compared">
        <thead>
          <tr>
            <td />
            {[a, b].map((p, i) => (
              <th scope="col" key={i}>
                {keyShort(p.shapeKey)} shapes, {p.setup.capo ? `capo ${p.setup.capo}` : 'no capo'}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, left, right]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>{left}</td>
              <td>{right}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="xs" variant="default" mt={8} onClick={onClose}>
        Close
      </Button>
    </section>
  );
}

/** What follows from a capo: names by shape and by sound, what the band plays, stretches, and the way back. */
function CapoNotes({ tune, plan, cell }: { tune: Tune; plan: TunePlan; cell: KeyPlan }) {
  const { capo } = cell.setup;
  const [limit, setLimit] = useState(90);
  const band = bandView(tune, cell.transposition, capo);
  const shapes = useQuery({
    queryKey: ['plan-shapes', tune.id, plan, cell.transposition, capo],
    queryFn: (): Promise<Progression> =>
      arranger().planShapes(tune, {
        ...plan,
        setup: cell.setup,
        transposition: cell.transposition,
        choices: {},
      }),
  });
  const grips = shapes.data?.chords.flatMap(c => (c.chosen ? [c.chosen.grip] : [])) ?? [];
  const smallest = smallestCapoFor(cell.setup, plan.hand, grips, limit);
  const back = wayBack(cell.setup, plan.hand, grips);
  const moved = smallest ? smallest.pitchMove : 0;
  return (
    <div className="capo-notes">
      <section className="panel">
        <h2>{capo ? `Names with capo ${capo}` : 'Names without capo'}</h2>
        <table className="names">
          <tbody>
            <tr>
              <th scope="row">Shape</th>
              {capoChart(capo).map(pair => (
                <td key={pair.shape}>{prettyAccidentals(pair.shape)}</td>
              ))}
            </tr>
            <tr>
              <th scope="row">Sounds</th>
              {capoChart(capo).map(pair => (
                <td key={pair.shape}>{prettyAccidentals(pair.sounding)}</td>
              ))}
            </tr>
          </tbody>
        </table>
      </section>
      <section className="panel">
        <h2>Tell the pianist</h2>
        <p>
          {keyName(band.key)}: {band.chords.map(c => `${chordLabel(c.sounding)} (${c.step})`).join(', ')}.{' '}
          {band.words}
        </p>
      </section>
      {grips.length > 0 && (
        <section className="panel">
          <h2>Stretch and capo</h2>
          <Group align="end" gap={12}>
            <NumberInput
              label="My limit, mm"
              w={110}
              min={30}
              max={160}
              step={5}
              value={limit}
              onChange={v => typeof v === 'number' && v >= 30 && v <= 160 && setLimit(v)}
            />
            <Text size="sm" style={{ flex: 1 }}>
              {smallest
                ? `These shapes stay within ${limit} mm from ${smallest.capo ? `capo ${smallest.capo}` : 'no capo'} on (${Math.round(smallest.stretch)} mm). ${
                    moved
                      ? `Against now the sound moves ${Math.abs(moved)} semitone${Math.abs(moved) === 1 ? '' : 's'} ${moved > 0 ? 'up' : 'down'}.`
                      : 'That is where the capo is.'
                  }`
                : `On this neck no capo brings these shapes within ${limit} mm: choose other shapes.`}
            </Text>
          </Group>
          {back.length > 1 && (
            <>
              <h3>The way back without the capo</h3>
              <ol className="way-back">
                {back.map(step => (
                  <li key={step.week}>
                    Week {step.week}: {step.capo ? `capo ${step.capo}` : 'no capo'},{' '}
                    {Math.round(step.stretch)} mm
                    {step.wider > 0.5 && ` (${Math.round(step.wider)} mm wider)`}
                  </li>
                ))}
              </ol>
              <Text size="sm" c="dimmed">
                Go on only while it stays easy. Stop at pain or numbness; if it stays, see a doctor or
                physiotherapist.
              </Text>
            </>
          )}
        </section>
      )}
    </div>
  );
}
