/** Drop D, where the sixth string a whole tone lower gives a melody its bass. */
import { INSTRUMENTS, type Setup, TUNINGS } from '../instrument';
import { keyName, pitchClassOf } from '../pitch';
import type { Tune } from '../tune';
import { percent } from './percent';
import { type KeyPlan, type KeyWishes, planCapo } from './planner';

/** What another tuning must save in all: retuning is little, but it is something; judgement. */
const GAIN = 0.5;
/** Part of the time that gets room for its roots, for which it is as little if it costs no more in all; judgement. */
const ROOM = 0.1;

/** The best plan in the present tuning, the best one in another, and what that gains. */
export interface OtherTuning {
  own: KeyPlan;
  other: KeyPlan;
  /** "Drop D". */
  name: string;
  gains: string[];
}

/**
 * Whether a tune in the key it stands in gains by drop D: played from D shapes, with the root below all other strings.
 *
 * @param wishes with a guitar in its standard tuning, and a bass under the melody; nothing is offered for others
 * @returns undefined where there is nothing to gain
 * @example otherTuning(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND, overBass: true }) // undefined: it is no tune in D
 */
export function otherTuning(tune: Tune, wishes: KeyWishes): OtherTuning | undefined {
  const { setup, hand } = wishes;
  const { kind, tuning } = INSTRUMENTS[setup.instrument];
  const drop = TUNINGS[kind].find(({ name, strings }) => name === 'Drop D' && strings === tuning.length);
  if (!drop || !wishes.overBass || setup.tuning.join() !== tuning.join()) return undefined;
  const best = (own: Setup) => planCapo(tune, own, hand, 'auto', wishes)[0];
  const own = best(setup);
  const other = best({ ...setup, tuning: drop.notes.split(' ').reverse() });
  if (!own || !other || pitchClassOf(other.shapeKey.tonic) !== pitchClassOf('D')) return undefined;
  const gain = own.crowded - other.crowded >= ROOM ? 0 : GAIN;
  if (other.cost > own.cost - gain) return undefined;
  const gains = ['the root of D rings an octave lower, on the open sixth string'];
  if (other.crowded < own.crowded - 0.005)
    gains.push(
      `for ${percent(other.crowded)} of the time no root lies a fifth under the melody, instead of ${percent(own.crowded)}`,
    );
  if (other.setup.capo !== own.setup.capo || other.shapeKey.tonic !== own.shapeKey.tonic)
    gains.push(
      `${keyName(other.shapeKey)} shapes with ${capoWords(other)} instead of ${keyName(own.shapeKey)} shapes with ${capoWords(own)}`,
    );
  const easier = own.parts.shapes + own.parts.changes - other.parts.shapes - other.parts.changes;
  if (easier > GAIN / 2)
    gains.push(`shapes and changes ask ${percent(easier / (own.parts.shapes + own.parts.changes))} less`);
  return { own, other, name: drop.name, gains };
}

const capoWords = ({ setup: { capo } }: KeyPlan) => (capo ? `capo ${capo}` : 'no capo');
