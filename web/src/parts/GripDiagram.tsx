import { fingerLabel } from '#core/hand';
import { useLeftHanded } from './ShapePicture';

/** A grip as a small neck picture for paper: strings upright, thickest at the left (left-handed: right), finger numbers in the dots. */
export function GripDiagram({
  frets,
  fingers,
}: {
  frets: readonly (number | null)[];
  fingers: readonly (number | null)[];
}) {
  const strings = frets.length;
  const held = frets.filter((f): f is number => f !== null && f > 0);
  const base = held.length && Math.max(...held) > 4 ? Math.min(...held) : 1;
  const rows = Math.max(4, ...held.map(f => f - base + 1));
  const gap = 13;
  const left = 20;
  const top = 18;
  const [leftHanded] = useLeftHanded();
  const x = (string: number) => left + (leftHanded ? string - 1 : strings - string) * gap;
  const y = (fret: number) => top + (fret - base + 0.5) * gap * 1.25;
  const bottom = top + rows * gap * 1.25;
  const text = frets
    .map(f => (f === null ? 'x' : f))
    .reverse()
    .join(' ');
  return (
    <svg
      width={left + (strings - 1) * gap + 14}
      height={bottom + 6}
      role="img"
      aria-label={`Frets from the thickest string: ${text}`}
      style={{ fontFamily: 'var(--mono)' }}
    >
      {Array.from({ length: rows + 1 }, (_, i) => (
        <line
          key={i}
          x1={x(strings)}
          x2={x(1)}
          y1={top + i * gap * 1.25}
          y2={top + i * gap * 1.25}
          stroke="currentColor"
          strokeWidth={i === 0 && base === 1 ? 3.5 : 1}
        />
      ))}
      {frets.map((fret, i) => {
        const string = i + 1;
        const finger = fingers[i];
        return (
          <g key={string}>
            <line x1={x(string)} x2={x(string)} y1={top} y2={bottom} stroke="currentColor" />
            {fret === null && (
              <text x={x(string)} y={top - 5} textAnchor="middle" fontSize={12} fill="currentColor">
                ×
              </text>
            )}
            {fret === 0 && <circle cx={x(string)} cy={top - 9} r={4} fill="none" stroke="currentColor" />}
            {fret !== null && fret > 0 && (
              <>
                <circle cx={x(string)} cy={y(fret)} r={6.3} fill="currentColor" />
                <text
                  x={x(string)}
                  y={y(fret) + 3.6}
                  textAnchor="middle"
                  fontSize={10.5}
                  fontWeight={700}
                  fill="#fff"
                >
                  {finger ? fingerLabel(finger) : ''}
                </text>
              </>
            )}
          </g>
        );
      })}
      {base > 1 && (
        <text x={left - 9} y={y(base) + 4} textAnchor="end" fontSize={12} fill="currentColor">
          {base}
        </text>
      )}
    </svg>
  );
}
