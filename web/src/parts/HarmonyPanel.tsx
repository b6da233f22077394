import { Text } from '@mantine/core';
import { useMemo } from 'react';
import { chordLabel } from '#core/chord';
import { keyName } from '#core/pitch';
import { chordOptions, chordSpans, findKeys, measureNumbers, type Tune } from '#core/tune';

/** The key that the melody itself suggests, and chords that fit it measure by measure. */
export function HarmonyPanel({ tune }: { tune: Tune }) {
  const keys = useMemo(() => findKeys(tune).slice(0, 3), [tune]);
  const options = useMemo(() => chordOptions(tune), [tune]);
  const numbers = measureNumbers(tune.measures);
  const best = keys[0]?.key;
  if (!best) return null;
  const agrees = best.tonic === tune.key.tonic && best.mode === tune.key.mode;
  return (
    <section className="panel" aria-label="Harmony">
      <h2>Harmony</h2>
      <Text size="sm">
        {agrees
          ? `The melody agrees with its key, ${keyName(tune.key)}.`
          : `The melody alone sounds like ${keys.map(k => keyName(k.key)).join(', or ')}; the source says ${keyName(tune.key)}.`}
      </Text>
      <details open={!chordSpans(tune).length}>
        <summary>Chords that would fit, measure by measure</summary>
        <table className="fitting">
          <thead>
            <tr>
              <th scope="col">Measure</th>
              <th scope="col">First choice</th>
              <th scope="col">or, with what the whole loses</th>
            </tr>
          </thead>
          <tbody>
            {options.map(
              (choices, index) =>
                choices[0] && (
                  <tr key={index}>
                    <th scope="row">{numbers[index]}</th>
                    <td>{chordLabel(choices[0].symbol)}</td>
                    <td>
                      {choices
                        .slice(1, 3)
                        .map(o => `${chordLabel(o.symbol)} −${o.loss.toFixed(1)}`)
                        .join(', ')}
                    </td>
                  </tr>
                ),
            )}
          </tbody>
        </table>
      </details>
    </section>
  );
}
