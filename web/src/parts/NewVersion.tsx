import { registerSW } from 'virtual:pwa-register';
import { Alert, Button, Group, Text } from '@mantine/core';
import { useEffect, useState } from 'react';
import { saveAll } from '../data/copies';

/** Keeps the app beside the browser's data, and offers a newer version once it is there: it waits for what is unsaved. */
export function NewVersion() {
  const [renew, setRenew] = useState<() => Promise<void>>();
  useEffect(() => {
    const update = registerSW({
      immediate: true,
      onNeedRefresh: () => setRenew(() => () => update(true)),
    });
  }, []);
  if (!renew) return null;
  return (
    <Alert color="spruce" role="status" title="A newer version is ready">
      <Group justify="space-between">
        <Text size="sm">This one works on until then. Your work is saved before the page is read anew.</Text>
        <Button size="compact-sm" variant="default" onClick={() => void saveAll().then(renew)}>
          Use it now
        </Button>
      </Group>
    </Alert>
  );
}
