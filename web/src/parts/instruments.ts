import { INSTRUMENTS, type InstrumentId } from '#core/instrument';
import type { Option } from './Choice';

/** The instruments to choose from. */
export const INSTRUMENT_CHOICES: readonly Option<InstrumentId>[] = Object.values(INSTRUMENTS).map(
  ({ id, name }) => ({ value: id, label: name }),
);
