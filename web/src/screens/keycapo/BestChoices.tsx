import clsx from 'clsx';
import type { KeyChoice, KeyPlan } from '#core/capo';
import { keyShort } from '#core/pitch';
import common from '../../theme/common.module.css';
import styles from './KeyCapo.module.css';
import { tonicOf } from './marks';

/** The shapes to choose from, best first, each with the other capos at which they go nearly as well. */
export function BestChoices({
  choices,
  looked,
  onLook,
}: {
  choices: readonly KeyChoice[];
  looked: KeyPlan | undefined;
  onLook: (plan: KeyPlan) => void;
}) {
  return (
    <section className={common.panel} aria-label="Best choices">
      <h2>Best choices</h2>
      <ol className={styles.best}>
        {choices.map(({ plan, others }) => (
          <li key={plan.shapeKey.tonic}>
            <button
              type="button"
              className={plan === looked ? styles.looked : ''}
              onClick={() => onLook(plan)}
            >
              {keyShort(plan.shapeKey)} shapes, {plan.setup.capo ? `capo ${plan.setup.capo}` : 'no capo'}{' '}
              <span className={common.quiet}>sounds {keyShort(plan.soundingKey)}</span>
            </button>
            {others.length > 0 && (
              <div className={clsx(common.quiet, styles.others)}>or {capoWords(others)}</div>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** "no capo C, capo 1 D♭, 2 D": capos with what sounds there. */
const capoWords = (plans: readonly KeyPlan[]) =>
  plans
    .map(({ setup: { capo }, soundingKey }, i) => {
      const isFirst = i === 0 || plans[i - 1]!.setup.capo === 0;
      const word = capo === 0 ? 'no capo' : isFirst ? `capo ${capo}` : `${capo}`;
      return `${word} ${tonicOf(soundingKey)}`;
    })
    .join(', ');
