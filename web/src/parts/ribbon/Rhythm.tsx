import { type LongNotes, type RhythmSign, rhythmOf, type ScoreMeasure } from '#core/score';
import styles from './Ribbon.module.css';

/** Pixels of a stem, from beam to beam, and of a flag. */
const STEM = 24;
const BEAM_GAP = 5;
const FLAG = 8;

/** Stems, flags, dots and rests beside the strings: of the first voice above them, of the others below. */
export function Rhythm({
  measure,
  long,
  x,
  above,
  below,
}: {
  measure: ScoreMeasure;
  long: LongNotes;
  x: (tick: number) => number;
  /** Where stems stand: over the first string, and under the last one. */
  above: number;
  below: number;
}) {
  const rhythm = rhythmOf(measure, long);
  return (
    <g className={styles.rhythm}>
      <Signs signs={rhythm.above} x={x} y={above} up={-1} />
      <Signs signs={rhythm.below} x={x} y={below} up={1} />
    </g>
  );
}

/** Rests by their value, about a middle of 0. */
const REST_PATHS: Partial<Record<RhythmSign['type'], string>> = {
  breve: 'M-4 -4h8v8h-8z',
  whole: 'M-6 -4h12v4h-12z',
  half: 'M-6 0h12v4h-12z',
  quarter: 'M-2.5 -9L2.5 -3L-1.5 1.5L3 6.5C-1 5 -3 7 -0.5 10',
};

function Signs({
  signs,
  x,
  y,
  up,
}: {
  signs: readonly RhythmSign[];
  x: (tick: number) => number;
  y: number;
  /** −1: stems rise, 1: they fall. */
  up: -1 | 1;
}) {
  const tip = y + up * STEM;
  return signs.map((sign, i) => {
    const at = x(sign.start);
    const key = `${sign.start} ${i}`;
    if (sign.rest) return <Rest key={key} sign={sign} x={at} y={y + (up * STEM) / 2} />;
    const hollow = sign.type === 'half' || sign.type === 'whole' || sign.type === 'breve';
    const before = signs[i - 1];
    const after = signs[i + 1];
    const joined = (other: RhythmSign | undefined) => other?.beam !== undefined && other.beam === sign.beam;
    const levels = Array.from({ length: sign.flags }, (_, level) => {
      const beam = tip - up * level * BEAM_GAP;
      if (sign.beam === undefined) return `M${at} ${beam}l${FLAG} ${-up * 6}`;
      // A beam to the next sign that has it too; a stub where neither neighbour has.
      if (joined(after) && after!.flags > level) return `M${at} ${beam}H${x(after!.start)}`;
      if (joined(before) && before!.flags > level) return '';
      // A stub leans to the dotted note that it fills up.
      const left = joined(before) && (before!.dots > 0 || !joined(after));
      return `M${at} ${beam}h${left ? -FLAG : FLAG}`;
    });
    return (
      <g key={key}>
        {sign.type !== 'whole' && sign.type !== 'breve' && (
          <line className={styles.stem} x1={at} x2={at} y1={hollow ? y + up * 3 : y} y2={tip} />
        )}
        {hollow && <ellipse className={styles.hollow} cx={at} cy={y} rx={4} ry={3} />}
        <path className={sign.beam === undefined ? styles.flag : styles.beam} d={levels.join('')} />
        {Array.from({ length: sign.dots }, (_, dot) => (
          <circle key={dot} className={styles.dot} cx={at + 7 + dot * 5} cy={y} r={1.8} />
        ))}
        {sign.tied && (
          <path
            className={styles.tie}
            d={`M${before && !before.rest ? x(before.start) + 4 : at - 16} ${y + up * -4}Q${(at + (before && !before.rest ? x(before.start) : at - 16)) / 2} ${y + up * -9} ${at - 4} ${y + up * -4}`}
          />
        )}
      </g>
    );
  });
}

/** A rest; those of an eighth and shorter have a dot and a hook for each flag. */
function Rest({ sign, x, y }: { sign: RhythmSign; x: number; y: number }) {
  const path = REST_PATHS[sign.type];
  const solid = sign.type === 'whole' || sign.type === 'half' || sign.type === 'breve';
  return (
    <g className="rest" transform={`translate(${x} ${y})`}>
      {path ? (
        <path d={path} className={solid ? styles.solid : styles.flag} />
      ) : (
        <>
          <line className={styles.flag} x1={4} y1={-7} x2={-1} y2={9} />
          {Array.from({ length: sign.flags }, (_, i) => (
            <g key={i}>
              <circle className={styles.dot} cx={-3 - i} cy={-5 + i * 5} r={2} />
              <path
                className={styles.flag}
                d={`M${-3 - i} ${-4 + i * 5}Q${1 - i} ${-2 + i * 5} ${4 - i * 1.5} ${-7 + i * 5}`}
              />
            </g>
          ))}
        </>
      )}
      {Array.from({ length: sign.dots }, (_, dot) => (
        <circle key={dot} className={styles.dot} cx={9 + dot * 5} cy={0} r={1.8} />
      ))}
    </g>
  );
}
