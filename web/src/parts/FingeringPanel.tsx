import { Button, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { type Arrangement, fingeringChoices, type History, takeFingers } from '#core/score';

/** Other ways to finger the measure at the cursor, with what each costs; worked out when it is opened. */
export function FingeringPanel({
  arrangement,
  measure,
  onEdit,
}: {
  arrangement: Arrangement;
  measure: number;
  onEdit: (edit: (history: History) => History) => void;
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
      <ul className="fingerings">
        {choices.map(choice => (
          <li key={[...choice.fingers.values()].join()}>
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
                onClick={() => onEdit(history => takeFingers(history, measure, choice.fingers))}
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
