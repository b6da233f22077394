import { Button, Checkbox, Group, NumberInput, Switch, Text, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { TunePlan } from '#core/capo';
import { HAND_SIZES, type Hand } from '#core/hand';
import {
  INSTRUMENT_IDS,
  INSTRUMENTS,
  type InstrumentId,
  instrumentOf,
  type NeckMeasures,
  neckFaults,
  parseTuning,
  type Setup,
  standardSetup,
  stringName,
  tuningChanges,
  tuningName,
  tuningsOf,
} from '#core/instrument';
import type { PlanPatch } from '../../engine/useTunePlan';
import { Choice } from '../../parts/Choice';
import common from '../../theme/common.module.css';
import styles from './SetupPanel.module.css';

interface SetupPanelProps {
  plan: TunePlan;
  change: (patch: PlanPatch) => void;
}

const MEASURES: [keyof NeckMeasures, string, number][] = [
  ['scaleLength', 'Scale length, mm', 1],
  ['nutWidth', 'Nut width, mm', 0.5],
  ['stringSpanAtNut', 'Outer strings at the nut, mm', 0.5],
  ['stringSpanAtBridge', 'Outer strings at the bridge, mm', 0.5],
  ['frets', 'Frets', 1],
  ['bodyFret', 'Body begins at fret', 1],
];

/** Instrument, tuning, capo strings, the measures of the neck, and the hand that plays it. */
export function SetupPanel({ plan, change }: SetupPanelProps) {
  const { setup, hand } = plan;
  const [typed, setTyped] = useState<string>();
  const [fault, setFault] = useState<string>();
  const tunings = tuningsOf(setup.instrument);
  const named = tunings.find(t => t.tuning.join() === setup.tuning.join());
  const warnings = tuningChanges(setup).filter(c => c.warning);
  const moved = tuningChanges(setup).filter(c => c.semitones !== 0);
  // Shapes chosen for another tuning or instrument no longer mean the same notes.
  const setSetup = (next: Setup) => change({ setup: next, choices: {} });
  const setHand = (patch: Partial<Hand>) => {
    const next: Hand = { ...hand, ...patch };
    if (next.span === undefined) delete next.span;
    change({ hand: next });
  };
  const tune = () => {
    if (typed === undefined) return;
    const tuning = parseTuning(typed, setup.instrument);
    if ('error' in tuning) setFault(tuning.error);
    else {
      setFault(undefined);
      setTyped(undefined);
      setSetup({ ...setup, tuning });
    }
  };
  return (
    <section className={`${common.panel} ${common.stack}`} aria-label="Instrument and hand">
      <Choice
        label="Instrument"
        options={INSTRUMENT_IDS.map(id => ({ value: id, label: INSTRUMENTS[id].name }))}
        value={setup.instrument}
        onChange={v => setSetup(standardSetup(v as InstrumentId))}
      />
      <Choice
        label="Tuning"
        options={[
          ...tunings.map(t => ({ value: t.name, label: t.name })),
          { value: 'typed', label: named ? 'Type one …' : tuningName(setup) },
        ]}
        value={typed === undefined ? (named?.name ?? 'typed') : 'typed'}
        onChange={v => {
          const chosen = tunings.find(t => t.name === v);
          setFault(undefined);
          if (chosen) {
            setTyped(undefined);
            setSetup({ ...setup, tuning: chosen.tuning });
          } else setTyped([...setup.tuning].reverse().join(' '));
        }}
      />
      {typed !== undefined && (
        <form
          onSubmit={event => {
            event.preventDefault();
            tune();
          }}
        >
          <TextInput
            label={`Strings ${setup.tuning.length} to 1, thickest first`}
            value={typed}
            error={fault}
            onChange={event => setTyped(event.currentTarget.value)}
          />
          <Button type="submit" size="xs" mt={6} variant="default">
            Tune so
          </Button>
        </form>
      )}
      {moved.length > 0 && (
        <Text size="sm" c="dimmed">
          From standard:{' '}
          {moved
            .map(c => `${stringName(setup, c.string)} ${c.semitones > 0 ? '+' : '−'}${Math.abs(c.semitones)}`)
            .reverse()
            .join('; ')}
        </Text>
      )}
      {warnings.map(c => (
        <Text size="sm" c="var(--cranberry)" key={c.string}>
          {c.warning}
        </Text>
      ))}
      <details>
        <summary>Partial capo, neck measures</summary>
        <div className={common.stack}>
          <fieldset className={styles.plain}>
            <legend>The capo holds</legend>
            {setup.tuning.map((_, i) => (
              <Checkbox
                key={i}
                label={stringName(setup, i + 1)}
                checked={setup.capoStrings?.includes(i + 1) ?? true}
                onChange={event => {
                  const all = setup.tuning.map((_, j) => j + 1);
                  const held = (setup.capoStrings ?? all).filter(s => s !== i + 1);
                  if (event.currentTarget.checked) held.push(i + 1);
                  held.sort((a, b) => a - b);
                  const next = { ...setup };
                  if (held.length === all.length || !held.length) delete next.capoStrings;
                  else next.capoStrings = held;
                  setSetup(next);
                }}
              />
            ))}
          </fieldset>
          {MEASURES.map(([name, label, step]) => (
            <NumberInput
              key={name}
              label={label}
              step={step}
              value={instrumentOf(setup)[name]}
              onBlur={() => setFault(undefined)}
              onChange={value => {
                if (typeof value !== 'number') return;
                const neck = { ...setup.neck, [name]: value };
                const wrong = neckFaults({ ...instrumentOf(setup), ...neck });
                if (wrong.length) setFault(wrong[0]);
                else {
                  setFault(undefined);
                  change({ setup: { ...setup, neck } });
                }
              }}
            />
          ))}
          {fault && typed === undefined && (
            <Text size="sm" c="var(--cranberry)" role="alert">
              {fault}
            </Text>
          )}
          {setup.neck && (
            <Button
              size="xs"
              variant="default"
              onClick={() => {
                const { neck: _neck, ...usual } = setup;
                change({ setup: usual });
              }}
            >
              The usual measures
            </Button>
          )}
        </div>
      </details>
      <Group grow align="end" gap={8}>
        <Choice
          label="Hand"
          options={[
            ...HAND_SIZES.map(size => ({ value: size, label: size[0]!.toUpperCase() + size.slice(1) })),
            { value: 'measured', label: 'Measured' },
          ]}
          value={hand.span === undefined ? hand.size : 'measured'}
          onChange={v => {
            if (v === 'measured') setHand({ span: 155 });
            else if (v) {
              const { span: _span, ...rest } = hand;
              change({ hand: { ...rest, size: v as Hand['size'] } });
            }
          }}
        />
        {hand.span !== undefined && (
          <NumberInput
            label="Span, mm"
            description="index tip to little-finger tip"
            min={80}
            max={260}
            value={hand.span}
            onChange={value =>
              typeof value === 'number' && value >= 80 && value <= 260 && setHand({ span: value })
            }
          />
        )}
      </Group>
      <Switch
        label="A beginner's hand"
        checked={hand.beginner ?? false}
        onChange={event => setHand({ beginner: event.currentTarget.checked })}
      />
      <Switch
        label="Thumb may come over the neck"
        checked={hand.thumb ?? false}
        onChange={event => setHand({ thumb: event.currentTarget.checked })}
      />
    </section>
  );
}
