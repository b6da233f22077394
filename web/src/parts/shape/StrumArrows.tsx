import { useMemo } from 'react';
import { layPattern } from '#core/arrange';
import { type PatternStroke, parsePattern, patternMeasures } from '#core/fingering';
import { countSyllable, type Meter, measureTicks } from '#core/time';
import styles from '../paper/WordSheet.module.css';

/** A stroke as a sign: arrows for strums (towards the thin strings is down), else the strings. */
export function signOf({ play, accent }: PatternStroke): string {
  const [first] = play;
  const signs: Partial<Record<string, string>> = { D: '↓', U: '↑', T: '⇣', X: '✕', C: '↧' };
  const sign = signs[String(first)] ?? (play.length > 1 ? `(${play.join('')})` : String(first ?? '·'));
  return accent ? `>${sign}` : sign;
}

const WORDS: Partial<Record<string, string>> = {
  D: 'down',
  U: 'up',
  T: 'brush',
  X: 'damped',
  C: 'chop',
  B: 'bass',
  A: 'next bass',
};

/** A strum or pick over the count, measure by measure. */
export function StrumArrows({ pattern, ...rest }: { pattern: string; meter: Meter; strings: number }) {
  return patternMeasures(pattern).map((measure, i) => <MeasureArrows key={i} pattern={measure} {...rest} />);
}

function MeasureArrows({ pattern, meter, strings }: { pattern: string; meter: Meter; strings: number }) {
  const laid = useMemo(() => {
    const strokes = parsePattern(pattern, strings);
    if ('error' in strokes) return [];
    return layPattern(strokes, { meter, ticks: measureTicks(meter), offset: 0, chords: [] });
  }, [pattern, meter, strings]);
  const said = laid
    .filter(({ stroke }) => stroke.play.length)
    .map(
      ({ start, stroke }) =>
        `${countSyllable(meter, start) ?? ''} ${WORDS[String(stroke.play[0])] ?? `string ${stroke.play.join(' and ')}`}`,
    )
    .join(', ');
  return (
    <table className={styles.strumArrows} aria-label={`The strum: ${said}`}>
      <tbody aria-hidden>
        <tr>
          {laid.map(({ start, stroke }) => (
            <td key={start} className={styles.stroke}>
              {stroke.play.length ? signOf(stroke) : ''}
            </td>
          ))}
        </tr>
        <tr>
          {laid.map(({ start }) => {
            const count = countSyllable(meter, start) ?? '';
            return (
              <td key={start} className={/^\d/.test(count) ? styles.beat : ''}>
                {count}
              </td>
            );
          })}
        </tr>
      </tbody>
    </table>
  );
}
