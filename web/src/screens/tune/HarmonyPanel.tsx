import { Alert, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { chordLabel } from '#core/chord';
import { keyName } from '#core/pitch';
import { beatName } from '#core/time';
import {
  type ChordPlace,
  chordOptions,
  chordSpans,
  findKeys,
  heardChords,
  measureNumbers,
  type Tune,
} from '#core/tune';
import { useStoreChange } from '../../data/queries';
import { arranger } from '../../engine/workers';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import common from '../../theme/common.module.css';
import styles from './HarmonyPanel.module.css';

/** Chords offered for one place. */
const OFFERED = 6;

const placeName = ({ measure, start }: Pick<ChordPlace, 'measure' | 'start'>) => `${measure}:${start}`;

/** The key that the melody itself suggests, and chords that fit it measure by measure, to be written into the tune. */
export function HarmonyPanel({ tune, onTune }: { tune: Tune; onTune: (tune: Tune) => void }) {
  const keys = useMemo(() => findKeys(tune).slice(0, 3), [tune]);
  const options = useMemo(() => chordOptions(tune), [tune]);
  const voices = useMemo(() => heardChords(tune) !== undefined, [tune]);
  /** Chords chosen against the first choice, by place. */
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const numbers = measureNumbers(tune.measures);
  const bare = options.filter(({ measure }) => !tune.measures[measure]!.chords.length);
  const write = useStoreChange(async () => {
    const chords = options.map(place => ({
      measure: place.measure,
      start: place.start,
      symbol: chosen[placeName(place)] ?? place.options[0]!.symbol,
    }));
    onTune(await arranger().writeChords(tune, chords));
  });
  const best = keys[0]?.key;
  if (!best) return null;
  const agrees = best.tonic === tune.key.tonic && best.mode === tune.key.mode;
  return (
    <section className={common.panel} aria-label="Harmony">
      <h2>Harmony</h2>
      <Text size="sm">
        {agrees
          ? `The melody agrees with its key, ${keyName(tune.key)}.`
          : `The melody alone sounds like ${keys.map(k => keyName(k.key)).join(', or ')}; the source says ${keyName(tune.key)}.`}
      </Text>
      <details open={!chordSpans(tune).length}>
        <summary>Chords that would fit, measure by measure</summary>
        {voices && <Text size="sm">They are what the other voices sound together with the melody.</Text>}
        <table className={styles.fitting}>
          <thead>
            <tr>
              <th scope="col">Measure</th>
              <th scope="col">Chord</th>
              <th scope="col">or, with what the whole loses</th>
            </tr>
          </thead>
          <tbody>
            {options.map(({ measure, start, options: choices }) => {
              const { chords: written, meter, offset } = tune.measures[measure]!;
              // One row tells what a measure has; places inside it are for what it could have.
              if (written.length && start > 0) return null;
              const place = placeName({ measure, start });
              const label =
                start > 0 ? `${numbers[measure]}, ${beatName(meter, start + offset)}` : `${numbers[measure]}`;
              return (
                <tr key={place}>
                  <th scope="row">{label}</th>
                  <td>
                    {written.length ? (
                      written.map(c => chordLabel(c.symbol)).join(' ')
                    ) : (
                      <Choice
                        size="xs"
                        w={110}
                        aria-label={`Chord of measure ${label}`}
                        options={choices
                          .slice(0, OFFERED)
                          .map(o => ({ value: o.symbol, label: chordLabel(o.symbol) }))}
                        value={chosen[place] ?? choices[0]!.symbol}
                        onChange={value => {
                          setChosen(before => ({ ...before, [place]: value }));
                        }}
                      />
                    )}
                  </td>
                  <td>
                    {choices
                      .slice(written.length ? 0 : 1, 3)
                      .map(o => `${chordLabel(o.symbol)} −${o.loss.toFixed(1)}`)
                      .join(', ')}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {bare.length > 0 && (
          <BusyButton size="compact-sm" mt={8} busy={write.isPending} onClick={() => write.mutate()}>
            Write {bare.length === 1 ? 'this chord' : `these ${bare.length} chords`} into the tune
          </BusyButton>
        )}
        {write.error && (
          <Alert color="cranberry" mt={8}>
            The chords could not be written: {write.error.message}
          </Alert>
        )}
      </details>
    </section>
  );
}
