import { Button } from '@mantine/core';
import { IconArrowBackUp } from '@tabler/icons-react';
import type { Planned } from '../engine/useTunePlan';

/** Takes the last step of a plan back. */
export function UndoPlan({ planned: { canUndo, undo } }: { planned: Pick<Planned, 'canUndo' | 'undo'> }) {
  return (
    <Button
      variant="transparent"
      c="inherit"
      disabled={!canUndo}
      leftSection={<IconArrowBackUp size={18} />}
      onClick={undo}
    >
      Undo
    </Button>
  );
}
