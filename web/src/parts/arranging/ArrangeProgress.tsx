import { Progress } from '@mantine/core';

/** A bar that nothing is done of yet is shown a little filled, so that it is seen. */
const LEAST = 3;

/** How much of an arrangement is made, 0 to 1. */
export function ArrangeProgress({ done }: { done: number }) {
  return (
    <Progress
      value={Math.max(LEAST, 100 * done)}
      aria-label="How much is arranged"
      color="marigold"
      size="sm"
    />
  );
}
