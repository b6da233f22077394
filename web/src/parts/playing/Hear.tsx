import { Button, Text } from '@mantine/core';
import { IconPlayerStopFilled, IconVolume } from '@tabler/icons-react';
import { usePlayback } from '../../engine/player';
import type { SoundRequest } from '../../engine/sound.worker';

/** A button that plays something short, and stops it. */
export function Hear({ label, request }: { label: string; request: () => SoundRequest }) {
  const { state, toggle } = usePlayback();
  const playing = state.status === 'playing';
  return (
    <>
      <Button
        size="compact-sm"
        variant="default"
        loading={state.status === 'preparing'}
        leftSection={playing ? <IconPlayerStopFilled size={14} /> : <IconVolume size={16} />}
        onClick={() => toggle(request(), false)}
      >
        {playing ? 'Stop' : label}
      </Button>
      {state.error && (
        <Text size="sm" role="alert" c="var(--cranberry)">
          No sound: {state.error}
        </Text>
      )}
    </>
  );
}
