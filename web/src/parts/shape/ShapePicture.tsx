import { useLocalStorage } from '@mantine/hooks';
import { createContext, useContext } from 'react';
import { type FingerPlacement, fingerLabel } from '#core/hand';
import {
  fingertipDistance,
  fretDistance,
  instrumentOf,
  type Setup,
  stringName,
  underCapo,
} from '#core/instrument';
import styles from './ShapePicture.module.css';

interface ShapePictureProps {
  setup: Setup;
  frets: readonly (number | null)[];
  grip: readonly FingerPlacement[];
  /** Short texts under the strings, string 1 first: degrees or note names. */
  under?: readonly string[] | undefined;
  /** Pixels for a millimetre along the neck. */
  scale?: number;
  /** Lets a click set a fret on a string; null silences it. */
  onPick?: (string: number, fret: number | null) => void;
}

/** Whether the pupil for whom a screen is plays left-handed; left out where it is for nobody in particular. */
export const HandedContext = createContext<boolean | undefined>(undefined);

/** Left-handed pictures: as the pupil plays, else a choice for the whole app. */
export function useLeftHanded() {
  const ofPupil = useContext(HandedContext);
  const [chosen, choose] = useLocalStorage({ key: 'left-handed', defaultValue: false });
  return [ofPupil ?? chosen, choose] as const;
}

/**
 * How high pictures of shapes are at most on these strings, in pixels; those further up the neck are lower.
 *
 * @param scale pixels for a millimetre along the neck
 */
export function pictureHeight(setup: Setup, scale = OVER_STRINGS): number {
  const { scaleLength } = instrumentOf(setup);
  const origin = fretDistance(scaleLength, setup.capo);
  return TOP + (fretDistance(scaleLength, FEWEST_FRETS + setup.capo) - origin) * scale + 16;
}

/** Pixels for a millimetre in the pictures over the strings of a score. */
export const OVER_STRINGS = 0.75;
/** Pixels over the first fret wire: silent and open strings. */
const TOP = 26;
/** Fewest frets that a picture shows, and distance of its strings in pixels at scale 1. */
const FEWEST_FRETS = 4;
const STRING_GAP = 14;

/**
 * A shape on a piece of the neck, strings upright. Frets lie true to scale for this neck and capo; strings are drawn
 * wider apart so that finger numbers can be read. The thickest string is at the left, for left-handed at the right.
 */
export function ShapePicture({ setup, frets, grip, under, scale = 1.15, onPick }: ShapePictureProps) {
  const [leftHanded] = useLeftHanded();
  const { scaleLength } = instrumentOf(setup);
  const strings = frets.length;
  const held = frets.filter((f): f is number => f !== null && f > 0);
  const highest = Math.max(0, ...held);
  const first = highest > FEWEST_FRETS ? Math.max(0, Math.min(...held) - 1) : 0;
  const last = Math.max(first + FEWEST_FRETS, highest);
  const gap = STRING_GAP * Math.max(0.9, scale / 1.15);
  const left = 28;
  const top = TOP;
  const width = left + (strings - 1) * gap + 18;
  const origin = fretDistance(scaleLength, first + setup.capo);
  const y = (fret: number) => top + (fretDistance(scaleLength, fret + setup.capo) - origin) * scale;
  const tip = (fret: number) => top + (fingertipDistance(scaleLength, fret + setup.capo) - origin) * scale;
  const x = (string: number) => left + (leftHanded ? string - 1 : strings - string) * gap;
  const bottom = y(last) + 4;
  const height = bottom + (under ? 20 : 4);
  const radius = gap * 0.47;
  const words = frets
    .map((fret, i) => {
      const name = stringName(setup, i + 1);
      if (fret === null) return `${name}: not played`;
      if (fret === 0) return `${name}: open`;
      const finger = grip.find(p => p.fret === fret && p.from <= i + 1 && i + 1 <= p.to)?.finger;
      return `${name}: fret ${fret}${finger ? `, ${finger === 5 ? 'thumb' : `finger ${finger}`}` : ''}`;
    })
    .reverse()
    .join('; ');
  return (
    <svg
      className={styles.shapePicture}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={words}
    >
      {Array.from({ length: last - first + 1 }, (_, i) => first + i).map(fret => (
        <line
          key={fret}
          className={fret === 0 ? (setup.capo ? styles.capo : styles.nut) : styles.wire}
          x1={x(strings) - (leftHanded ? -1 : 1) * 1}
          x2={x(1)}
          y1={y(fret)}
          y2={y(fret)}
        />
      ))}
      {Array.from({ length: strings }, (_, i) => i + 1).map(string => {
        const fret = frets[string - 1];
        const open = first === 0 && setup.capo > 0 && !underCapo(setup, string);
        return (
          <g key={string}>
            <line
              className={styles.string}
              x1={x(string)}
              x2={x(string)}
              y1={open ? top - 8 : top}
              y2={bottom}
              strokeWidth={0.8 + (string - 1) * 0.3}
            />
            {fret === null && (
              <text className={styles.silent} x={x(string)} y={top - 12}>
                ×
              </text>
            )}
            {fret === 0 && <circle className={styles.open} cx={x(string)} cy={top - 12} r={4.5} />}
            {under && (
              <text className={styles.degree} x={x(string)} y={bottom + 12}>
                {under[string - 1]}
              </text>
            )}
          </g>
        );
      })}
      {grip.map(p => {
        const [a, b] = [Math.min(x(p.from), x(p.to)), Math.max(x(p.from), x(p.to))];
        return (
          <g key={`${p.finger}-${p.fret}`}>
            <rect
              className={styles.finger}
              x={a - radius}
              y={tip(p.fret) - radius}
              width={b - a + 2 * radius}
              height={2 * radius}
              rx={radius}
            />
            <text className={styles.fingerNumber} x={(a + b) / 2} y={tip(p.fret)}>
              {fingerLabel(p.finger)}
            </text>
          </g>
        );
      })}
      {(first > 0 || setup.capo > 0) && (
        <text x={leftHanded ? width - 8 : left - 17} y={tip(first + 1)}>
          {first + 1}
        </text>
      )}
      {first === 0 && setup.capo > 0 && (
        <text x={left - 17} y={top - 12}>
          c{setup.capo}
        </text>
      )}
      {onPick &&
        Array.from({ length: strings }, (_, i) => i + 1).flatMap(string => [
          // biome-ignore lint/a11y/noStaticElementInteractions: by keyboard the text field beside the picture does the same
          <rect
            key={`${string}-top`}
            className={styles.pick}
            x={x(string) - gap / 2}
            y={0}
            width={gap}
            height={top - 4}
            onClick={() => onPick(string, frets[string - 1] === 0 ? null : 0)}
          />,
          ...Array.from({ length: last - first }, (_, i) => first + i + 1).map(fret => (
            // biome-ignore lint/a11y/noStaticElementInteractions: by keyboard the text field beside the picture does the same
            <rect
              key={`${string}-${fret}`}
              className={styles.pick}
              x={x(string) - gap / 2}
              y={y(fret - 1)}
              width={gap}
              height={y(fret) - y(fret - 1)}
              onClick={() => onPick(string, fret)}
            />
          )),
        ])}
    </svg>
  );
}
