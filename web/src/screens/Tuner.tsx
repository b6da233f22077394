import { Alert, Button, Group, Slider, Switch, Text, Title } from '@mantine/core';
import { useEffect, useState } from 'react';
import {
  type InstrumentId,
  openNotes,
  standardSetup,
  stringName,
  tuningsOf,
  withCapo,
} from '#core/instrument';
import {
  capoPull,
  hearPitch,
  simulatedStrings,
  type TunerReading,
  tunerReading,
  tuningWords,
} from '#core/listen';
import { frequencyOf, pitchName, spellMidi } from '#core/pitch';
import { Microphone, microphoneWords } from '../engine/microphone';
import { Choice } from '../parts/Choice';
import { INSTRUMENT_CHOICES } from '../parts/instruments';
import { Masthead } from '../parts/Masthead';
import { Hear } from '../parts/playing/Hear';
import common from '../theme/common.module.css';
import styles from './Tuner.module.css';

/** How the strings of the simulated instrument have drifted, in cents. */
const DRIFT = [14, -22, 5, -9, 31, -4, 18, -12];
/** Samples that are listened to at once: enough for the lowest string. */
const WINDOW = 8192;
/** Milliseconds between two looks, and how many of them make the needle calm. */
const LOOK = 90;
const CALM = 5;

/** Every string against what it should be at this capo: by the microphone, or on a simulated instrument. */
export function TunerScreen() {
  const [instrument, setInstrument] = useState<InstrumentId>('guitar');
  const [tuning, setTuning] = useState('');
  const [capo, setCapo] = useState(0);
  const [behind, setBehind] = useState(50);
  const [microphone, setMicrophone] = useState<Microphone>();
  const [trouble, setTrouble] = useState<string>();
  const [frequency, setFrequency] = useState<number>();
  const tunings = tuningsOf(instrument);
  const chosen = tunings.find(own => own.name === tuning) ?? tunings[0]!;
  const setup = withCapo({ ...standardSetup(instrument), tuning: chosen.tuning }, capo);
  const reading = frequency === undefined ? undefined : tunerReading(setup, frequency);
  useEffect(() => {
    if (!microphone) return;
    const last: number[] = [];
    const timer = setInterval(() => {
      const samples = microphone.since(Math.max(0, microphone.heard - WINDOW));
      const heard = samples.length === WINDOW ? hearPitch(samples, microphone.sampleRate, 0.93) : undefined;
      if (!heard) return;
      last.push(heard.frequency);
      if (last.length > CALM) last.shift();
      setFrequency([...last].sort((a, b) => a - b)[Math.floor(last.length / 2)]);
    }, LOOK);
    return () => clearInterval(timer);
  }, [microphone]);
  useEffect(() => () => microphone?.close(), [microphone]);
  const listen = async (on: boolean) => {
    setTrouble(undefined);
    setFrequency(undefined);
    microphone?.close();
    setMicrophone(undefined);
    if (!on) return;
    try {
      setMicrophone(await Microphone.open());
    } catch (cause) {
      setTrouble(microphoneWords(cause));
    }
  };
  const strings = openNotes(setup);
  const simulated = simulatedStrings(setup, DRIFT, behind / 100);
  return (
    <div className={common.frame}>
      <Masthead title="Tuner" under="each string at this capo, in cents" />
      <main className={common.page}>
        <Group align="end" mb="md">
          <Choice
            label="Instrument"
            options={INSTRUMENT_CHOICES}
            value={instrument}
            onChange={setInstrument}
          />
          <Choice
            label="Tuning"
            options={tunings.map(({ name }) => ({ value: name, label: name }))}
            value={chosen.name}
            onChange={setTuning}
          />
          <Choice
            label="Capo"
            options={Array.from({ length: 10 }, (_, fret) => ({
              value: fret,
              label: fret ? `fret ${fret}` : 'none',
            }))}
            value={capo}
            onChange={setCapo}
          />
          <Switch
            label="Listen with the microphone"
            checked={microphone !== undefined}
            onChange={event => void listen(event.currentTarget.checked)}
          />
        </Group>
        {trouble && <Alert color="cranberry">{trouble}.</Alert>}
        <Needle reading={reading} frequency={frequency} />
        <div className={styles.tunerColumns}>
          <section aria-labelledby="tones">
            <Title order={2} id="tones" size="h4">
              Reference tones
            </Title>
            <ul className={styles.tones}>
              {strings.map((midi, i) => (
                <li key={i}>
                  <span>
                    {stringName(setup, i + 1)}
                    {capo > 0 && `, sounds ${pitchName(spellMidi(midi, 0), true)}`}
                  </span>
                  <span className={common.quiet}>{frequencyOf(midi).toFixed(2)} Hz</span>
                  <Hear
                    label={`Hear string ${i + 1}`}
                    request={() => ({
                      what: 'grips',
                      setup,
                      grips: [strings.map((_, k) => (k === i ? 0 : null))],
                      percent: 100,
                    })}
                  />
                </li>
              ))}
            </ul>
          </section>
          <section aria-labelledby="capo-does">
            <Title order={2} id="capo-does" size="h4">
              What a capo does
            </Title>
            <Text size="sm">
              It presses the strings down further than a finger would, and draws them sharp: thick ones most.
              Put it right behind the fret wire, not on it and not in the middle, press no harder than it
              needs, and tune again with it on. When it comes off, tune once more.
            </Text>
            <Text size="sm" mt="sm" fw={600}>
              A simulated instrument: its strings have drifted, its capo pulls.
            </Text>
            <Text size="sm" id="capo-place">
              Capo from right behind the wire (left) to the middle between two (right)
            </Text>
            <Slider
              aria-labelledby="capo-place"
              thumbProps={{ 'aria-label': 'Place of the capo behind the wire, per cent' }}
              value={behind}
              onChange={setBehind}
              disabled={!capo}
              w={260}
              label={value => `${value} %`}
            />
            <Group gap="xs" mt="sm">
              {simulated.map((own, i) => (
                <Button
                  key={i}
                  size="compact-md"
                  variant="default"
                  onClick={() => {
                    void listen(false);
                    setFrequency(own.frequency);
                  }}
                >
                  Pluck {i + 1}
                </Button>
              ))}
            </Group>
            {capo > 0 && (
              <Text size="sm" mt="sm">
                Here the capo draws string {strings.length} by{' '}
                {capoPull(capo, strings.length, behind / 100).toFixed(1)} cents, string 1 by{' '}
                {capoPull(capo, 1, behind / 100).toFixed(1)}.
              </Text>
            )}
          </section>
        </div>
      </main>
    </div>
  );
}

/** How far a string is out: a needle over a scale of half a semitone each way, with words. */
function Needle({
  reading,
  frequency,
}: {
  reading: TunerReading | undefined;
  frequency: number | undefined;
}) {
  const cents = reading ? Math.max(-50, Math.min(50, reading.cents)) : 0;
  const words = reading ? tuningWords(reading.cents) : undefined;
  return (
    <section className={styles.needle} aria-label="What is heard">
      <p role="status">
        {reading ? (
          <>
            <strong>{reading.name}</strong> {words}
            <span className={common.quiet}>
              {' '}
              {reading.cents >= 0 ? '+' : '−'}
              {Math.abs(reading.cents).toFixed(1)} cents, {frequency!.toFixed(2)} Hz
            </span>
          </>
        ) : frequency === undefined ? (
          'Pluck one string.'
        ) : (
          `${frequency.toFixed(1)} Hz is near no string of this tuning.`
        )}
      </p>
      <svg viewBox="0 0 440 74" aria-hidden="true">
        {Array.from({ length: 11 }, (_, i) => (
          <line
            key={i}
            x1={20 + i * 40}
            x2={20 + i * 40}
            y1={i === 5 ? 18 : 30}
            y2={52}
            stroke="var(--ink)"
            strokeWidth={i === 5 ? 3 : 1.5}
          />
        ))}
        <text x={20} y={70} textAnchor="middle" className={styles.scale}>
          −50
        </text>
        <text x={220} y={70} textAnchor="middle" className={styles.scale}>
          0
        </text>
        <text x={420} y={70} textAnchor="middle" className={styles.scale}>
          +50
        </text>
        {reading && (
          <path
            d={`M${220 + cents * 4} 54 l-9 -46 h18 z`}
            fill={words === 'in tune' ? 'var(--spruce)' : 'var(--marigold)'}
            stroke="var(--ink)"
          />
        )}
      </svg>
    </section>
  );
}
