import { useElementSize } from '@mantine/hooks';
import clsx from 'clsx';
import type { KeyPlan, VoiceRange } from '#core/capo';
import { highestFret, noteAt, openNotes } from '#core/instrument';
import { keyFifths, pitchName, spellMidi } from '#core/pitch';
import styles from './RangeChart.module.css';

/** The singer's range against the melody's, and the melody on the instrument, on one axis of pitch. */
export function RangeChart({
  plan,
  voice,
  melody,
}: {
  plan: KeyPlan;
  voice: VoiceRange | undefined;
  /** Lowest and highest note as written. */
  melody: { low: number; high: number };
}) {
  const { ref, width: measured } = useElementSize();
  const { setup } = plan;
  const played = {
    low: melody.low + plan.transposition + plan.octaveShift,
    high: melody.high + plan.transposition + plan.octaveShift,
  };
  const neck = {
    low: Math.min(...openNotes(setup)),
    high: Math.max(...setup.tuning.map((_, i) => noteAt(setup, i + 1, highestFret(setup)))),
  };
  const sung = plan.voice;
  const rows = [
    ...(voice ? [{ name: 'Voice', low: voice.low, high: voice.high, kind: 'frame' }] : []),
    ...(sung
      ? [
          {
            name: 'Melody, sung',
            low: sung.low,
            high: sung.high,
            kind: sung.below + sung.above ? 'over' : 'fits',
          },
        ]
      : []),
    { name: 'Melody, played', ...played, kind: 'fits' },
    { name: 'Strings', ...neck, kind: 'frame' },
  ];
  const low = Math.min(...rows.map(r => r.low)) - 1;
  const high = Math.max(...rows.map(r => r.high)) + 1;
  const left = 112;
  // Drawn at the width there is, so that its letters keep their size on a phone.
  const width = Math.max(300, Math.min(720, measured));
  const rowHeight = 24;
  const height = rows.length * rowHeight + 24;
  const x = (midi: number) => left + ((midi - low) / (high - low)) * (width - left - 10);
  const name = (midi: number) => pitchName(spellMidi(midi, keyFifths(plan.soundingKey)), true);
  const octaves = Array.from({ length: 11 }, (_, i) => i * 12).filter(c => c >= low && c <= high);
  return (
    <div ref={ref} className={styles.rangeChart}>
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={rows.map(r => `${r.name}: ${name(r.low)} to ${name(r.high)}`).join('. ')}
      >
        {octaves.map(c => (
          <g key={c}>
            <line className={styles.octave} x1={x(c)} x2={x(c)} y1={2} y2={height - 18} />
            <text className={styles.small} x={x(c)} y={height - 4} textAnchor="middle">
              {name(c)}
            </text>
          </g>
        ))}
        {rows.map((row, i) => (
          <g key={row.name}>
            <text x={left - 8} y={i * rowHeight + 16} textAnchor="end">
              {row.name}
            </text>
            <rect
              className={styles[row.kind]}
              x={x(row.low)}
              y={i * rowHeight + 4}
              width={Math.max(4, x(row.high) - x(row.low))}
              height={16}
              rx={8}
            />
            <text
              className={clsx(styles.inside, row.kind === 'frame' && styles.frame)}
              x={(x(row.low) + x(row.high)) / 2}
              y={i * rowHeight + 16}
              textAnchor="middle"
            >
              {name(row.low)} – {name(row.high)}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}
