import { INSTRUMENTS, type InstrumentId, type Setup, tuningName } from '#core/instrument';
import type { Option } from './Choice';

/** The instruments to choose from. */
export const INSTRUMENT_CHOICES: readonly Option<InstrumentId>[] = Object.values(INSTRUMENTS).map(
  ({ id, name }) => ({ value: id, label: name }),
);

/** Instrument and tuning, where they are others than a guitar's usual ones. */
export function unusualSetup(setup: Pick<Setup, 'instrument' | 'tuning'>): string[] {
  const tuned = tuningName(setup);
  return [
    ...(setup.instrument === 'guitar' ? [] : [INSTRUMENTS[setup.instrument].name]),
    ...(tuned === 'Standard' ? [] : [tuned]),
  ];
}
