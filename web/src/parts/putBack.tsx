import { Button } from '@mantine/core';

/** Milliseconds for which what was taken away can be put back by a click. */
const WAIT = 12_000;

/** Says that something was taken away, with the way back. */
export async function offerPuttingBack(title: string, putBack: () => Promise<unknown>): Promise<void> {
  const { notifications } = await import('@mantine/notifications');
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
