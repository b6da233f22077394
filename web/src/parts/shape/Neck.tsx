import { useElementSize } from '@mantine/hooks';
import { type FingerPlacement, fingerLabel, fingerName } from '#core/hand';
import { fretDistance, instrumentOf, type Setup, stringName } from '#core/instrument';
import styles from './Neck.module.css';
import { useLeftHanded } from './ShapePicture';

interface NeckProps {
  setup: Setup;
  grip: readonly FingerPlacement[];
  /** The grip before, drawn as a ghost. */
  ghost?: readonly FingerPlacement[];
  /** Strings struck open. */
  open?: readonly number[];
  /** Frets from the nut that must be seen. */
  frets?: number;
  /** A place is pointed at; frets count from the capo. */
  onPick?: ((string: number, fret: number) => void) | undefined;
}

/** Physical frets that carry a mark on most necks (common practice). */
const INLAYS = { guitar: [3, 5, 7, 9, 12, 15], mandolin: [5, 7, 10, 12, 15] };

/** The neck to true scale: distances of frets are as on the instrument; frets are numbered from the capo. */
export function Neck({ setup, grip, ghost = [], open = [], frets = 0, onPick }: NeckProps) {
  const { ref, width: measured } = useElementSize();
  const [leftHanded] = useLeftHanded();
  const instrument = instrumentOf(setup);
  const strings = setup.tuning.length;
  const highest = Math.max(
    12,
    frets,
    setup.capo + 5,
    ...[...grip, ...ghost].map(p => p.fret + setup.capo + 1),
  );
  const last = Math.min(instrument.frets, highest);
  const left = 62;
  const width = Math.max(320, measured);
  const right = width - 14;
  const gap = 19;
  const top = 26;
  const height = top + (strings - 1) * gap + 30;
  const scale = (right - left) / fretDistance(instrument.scaleLength, last);
  // For a left-handed player the nut is at the right.
  const place = (x: number) => (leftHanded ? width - x : x);
  const wire = (physical: number) => place(left + fretDistance(instrument.scaleLength, physical) * scale);
  const middle = (physical: number) =>
    physical <= 0 ? place(left - 12) : (wire(physical) + wire(physical - 1)) / 2;
  const y = (string: number) => top + (string - 1) * gap;
  const bottom = y(strings);
  const towardsNut = leftHanded ? 1 : -1;
  const capoX = setup.capo ? wire(setup.capo) + 7 * towardsNut : place(left);
  const covered = setup.capoStrings ?? setup.tuning.map((_, i) => i + 1);

  const words = grip.length
    ? `Neck${setup.capo ? `, capo ${setup.capo}` : ''}. ${grip.map(p => `${fingerName(p.finger)}: ${p.from === p.to ? stringName(setup, p.from) : `strings ${p.from} to ${p.to}`}, fret ${p.fret}`).join('. ')}.`
    : `Neck${setup.capo ? `, capo ${setup.capo}` : ''}. No finger is down.`;

  return (
    <div ref={ref}>
      <svg className={styles.neck} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
        <rect
          className={styles.wood}
          x={leftHanded ? width - right : left}
          y={top - 8}
          width={right - left}
          height={bottom - top + 16}
          rx={3}
        />
        {INLAYS[instrument.kind]
          .filter(fret => fret <= last)
          .map(fret => (
            <rect
              key={fret}
              className={styles.inlay}
              x={middle(fret) - 4}
              y={(top + bottom) / 2 - 10}
              width={8}
              height={20}
              rx={4}
            />
          ))}
        <rect
          className={styles.nut}
          x={leftHanded ? place(left) : left - 5}
          y={top - 9}
          width={5}
          height={bottom - top + 18}
        />
        {Array.from({ length: last }, (_, i) => i + 1).map(fret => (
          <g key={fret}>
            <line className={styles.fretWire} x1={wire(fret)} x2={wire(fret)} y1={top - 8} y2={bottom + 8} />
            {fret > setup.capo && (
              <text x={middle(fret)} y={bottom + 20}>
                {fret - setup.capo}
              </text>
            )}
          </g>
        ))}
        {setup.tuning.map((pitch, i) => (
          <g key={i}>
            <line
              className={styles.string}
              x1={place(left)}
              x2={place(right)}
              y1={y(i + 1)}
              y2={y(i + 1)}
              strokeWidth={1 + i * 0.35}
            />
            <text x={place(left - 40)} y={y(i + 1)}>
              {i + 1} {pitch.replace(/-?\d/, '')}
            </text>
          </g>
        ))}
        {setup.capo > 0 && (
          <g>
            <rect
              className={styles.capo}
              x={capoX - 5}
              y={y(Math.min(...covered)) - 10}
              width={10}
              height={(Math.max(...covered) - Math.min(...covered)) * gap + 20}
              rx={5}
            />
            <text x={capoX} y={7}>
              capo {setup.capo}
            </text>
          </g>
        )}
        {open.map(string => (
          <circle
            key={string}
            className={styles.open}
            cx={setup.capo ? capoX - 14 * towardsNut : place(left - 14)}
            cy={y(string)}
            r={6}
          />
        ))}
        {ghost.map(p => (
          <rect
            key={`${p.finger}-${p.fret}-${p.from}`}
            className={styles.ghost}
            x={middle(p.fret + setup.capo) - 10}
            y={y(p.from) - 10}
            width={20}
            height={(p.to - p.from) * gap + 20}
            rx={10}
          />
        ))}
        {grip.map(p => (
          <g key={`${p.finger}-${p.fret}`}>
            <rect
              className={styles.finger}
              x={middle(p.fret + setup.capo) - 10}
              y={y(p.from) - 9}
              width={20}
              height={(p.to - p.from) * gap + 18}
              rx={9}
            />
            <text
              className={styles.fingerNumber}
              x={middle(p.fret + setup.capo)}
              y={(y(p.from) + y(p.to)) / 2}
            >
              {fingerLabel(p.finger)}
            </text>
          </g>
        ))}
        {onPick &&
          setup.tuning.flatMap((_, i) =>
            Array.from({ length: last - setup.capo + 1 }, (_unused, fret) => {
              const [a, b] = fret
                ? [wire(fret + setup.capo), wire(fret + setup.capo - 1)]
                : [place(left - 26), place(left + (setup.capo ? 14 : 0))];
              return (
                // biome-ignore lint/a11y/noStaticElementInteractions: by keyboard a digit on the string does the same
                <rect
                  key={`${i}-${fret}`}
                  className={styles.pick}
                  data-place={`${i + 1}/${fret}`}
                  x={Math.min(a, b)}
                  y={y(i + 1) - gap / 2}
                  width={Math.abs(a - b)}
                  height={gap}
                  onClick={() => onPick(i + 1, fret)}
                />
              );
            }),
          )}
      </svg>
    </div>
  );
}
