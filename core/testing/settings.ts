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
export const anySettings = fc.record<ArrangeSettings>({
  level: fc.constantFrom(...LEVELS),
  bass: fc.constantFrom(...BASS_SCHOOLS),
  alternation: fc.constantFrom(...ALTERNATIONS),
  density: fc.constantFrom(...DENSITIES),
  doubling: fc.constantFrom(...DOUBLINGS),
  passing: fc.boolean(),
  voices: fc.integer({ min: 2, max: 4 }),
  school: fc.constantFrom(...PLUCK_SCHOOLS),
  jig: fc.constantFrom('group', 'alternate'),
  ringing: fc.boolean(),
  ornaments: fc.constantFrom(...ORNAMENTING),
  patternRestarts: fc.boolean(),
});
