/** The fretboard in millimetres. */
import type { Instrument } from './instruments';
import type { Place } from './notes';
import { instrumentOf, type Setup } from './setup';

/**
 * Distance of a physical fret from the nut: L · (1 − 2^(−n/12))
 * (equal temperament; Fletcher & Rossing, The Physics of Musical Instruments).
 *
 * @example fretDistance(650, 12) // 325
 */
export function fretDistance(scaleLength: number, fret: number): number {
  return scaleLength * (1 - 2 ** (-fret / 12));
}

/** How far behind the fret wire a fingertip presses, as a part of the space between two frets. Judgement. */
const FINGERTIP_BEHIND_WIRE = 0.3;

const fingertipTables = new Map<number, Float64Array>();

let lastScale = 0;

let lastTable: Float64Array = new Float64Array();

/**
 * Where a fingertip presses for a physical fret ≥ 1, in mm from the nut. Looked up: searches ask for it all the time.
 *
 * @example Math.round(fingertipDistance(650, 12)) // 319
 */
export function fingertipDistance(scaleLength: number, fret: number): number {
  if (scaleLength !== lastScale) {
    const table =
      fingertipTables.get(scaleLength) ??
      Float64Array.from({ length: 40 }, (_, n) => {
        const wire = fretDistance(scaleLength, n);
        return wire - FINGERTIP_BEHIND_WIRE * (wire - fretDistance(scaleLength, n - 1));
      });
    fingertipTables.set(scaleLength, table);
    lastScale = scaleLength;
    lastTable = table;
  }
  return lastTable[fret]!;
}

/**
 * Distance in mm of a string from string 1, measured across the neck at `distance` mm from the nut.
 *
 * @example stringOffset(instrumentOf(setup), 1, 0) // 0
 */
export function stringOffset(instrument: Instrument, string: number, distance: number): number {
  const count = instrument.tuning.length;
  const span =
    instrument.stringSpanAtNut +
    ((instrument.stringSpanAtBridge - instrument.stringSpanAtNut) * distance) / instrument.scaleLength;
  return (span * (string - 1)) / (count - 1);
}

/**
 * Distance in mm between two fingertips on the neck, along and across it.
 *
 * @example Math.round(fingertipSpan(setup, { string: 1, fret: 1 }, { string: 1, fret: 3 }).along) // 68
 */
export function fingertipSpan(setup: Setup, a: Place, b: Place): { along: number; across: number } {
  const instrument = instrumentOf(setup);
  const da = fingertipDistance(instrument.scaleLength, a.fret + setup.capo);
  const db = fingertipDistance(instrument.scaleLength, b.fret + setup.capo);
  return {
    along: db - da,
    across: stringOffset(instrument, b.string, db) - stringOffset(instrument, a.string, da),
  };
}
