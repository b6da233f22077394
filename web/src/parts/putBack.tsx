import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';

/** Milliseconds for which what was taken away can be put back by a click. */
const WAIT = 12_000;

/** Says that something was taken away, with the way back. */
export function offerPuttingBack(title: string, putBack: () => Promise<unknown>): void {
  const id = notifications.show({
    autoClose: WAIT,
    title,
    message: (
      <Button
        size="compact-sm"
        variant="light"
        onClick={async () => {
          await putBack();
          notifications.hide(id);
        }}
      >
        Put it back
      </Button>
    ),
  });
}
