import { Button, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { type Edit, fingeringChoices } from '#core/edit';
import type { Arrangement } from '#core/score';
import styles from './FingeringPanel.module.css';

/** Other ways to finger the measure at the cursor, with what each costs; worked out when it is opened. */
export function FingeringPanel({
  arrangement,
  measure,
  onEdit,
}: {
  arrangement: Arrangement;
  /** By place. */
  measure: number;
  onEdit: (edit: Edit) => void;
}) {
  const [open, setOpen] = useState(false);
  const choices = useMemo(
    () => (open ? fingeringChoices(arrangement, measure) : []),
    [open, arrangement, measure],
  );
  return (
    <details onToggle={event => setOpen(event.currentTarget.open)} style={{ marginTop: 12 }}>
      <summary>Other fingers for this measure</summary>
      {open && !choices.length && (
        <Text size="sm">This measure can’t be held as it stands: see the findings.</Text>
      )}
      <ul className={styles.fingerings}>
        {choices.map(choice => (
          <li key={Object.values(choice.fingers).join()}>
            <Text size="sm">
              {choice.differs.length ? `${choice.differs.join('; ')}.` : 'As it is now.'}{' '}
              <strong>
                {choice.cost < 0.05 ? 'The least effort' : `+${choice.cost.toFixed(1)} effort`}, hardest
                change {choice.worst.toFixed(1)}
              </strong>
            </Text>
            {choice.differs.length > 0 && (
              <Button
                size="compact-sm"
                variant="default"
                onClick={() =>
                  onEdit({
                    kind: 'fingers',
                    ids: [arrangement.measures[measure]!.id],
                    values: { fingers: choice.fingers },
                  })
                }
              >
                Take these fingers
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
