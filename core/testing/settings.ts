import fc from 'fast-check';
import {
  ALTERNATIONS,
  type ArrangeSettings,
  BASS_SCHOOLS,
  DENSITIES,
  DOUBLINGS,
  LEVELS,
  ORNAMENTING,
  PLUCK_SCHOOLS,
} from '../score';

/** Anything that the arranger can be asked for. */
export const anySettings: fc.Arbitrary<ArrangeSettings> = fc
  .record({
    level: fc.constantFrom(...LEVELS),
    hardest: fc.option(fc.integer({ min: 2, max: 12 }), { nil: undefined, freq: 2 }),
    bass: fc.constantFrom(...BASS_SCHOOLS),
    alternation: fc.constantFrom(...ALTERNATIONS),
    density: fc.constantFrom(...DENSITIES),
    doubling: fc.constantFrom(...DOUBLINGS),
    passing: fc.boolean(),
    voices: fc.integer({ min: 2, max: 4 }),
    school: fc.constantFrom(...PLUCK_SCHOOLS),
    jig: fc.constantFrom('group', 'alternate'),
    ringing: fc.boolean(),
    drones: fc.boolean(),
    tremolo: fc.boolean(),
    high: fc.boolean(),
    ornaments: fc.constantFrom(...ORNAMENTING),
    patternRestarts: fc.boolean(),
    bassTurns: fc.boolean(),
    rootRuns: fc.boolean(),
  })
  // Left out rather than undefined, as a record keeps it.
  .map(({ hardest, ...settings }) => ({ ...settings, ...(hardest !== undefined && { hardest }) }));
