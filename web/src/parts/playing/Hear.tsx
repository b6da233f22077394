import { Text } from '@mantine/core';
import { IconPlayerStopFilled, IconVolume } from '@tabler/icons-react';
import { usePlayback } from '../../engine/player';
import type { SoundRequest } from '../../engine/sound.worker';
import { BusyButton } from '../BusyButton';

/** A button that plays something short, and stops it. */
export function Hear({
  label,
  request,
  size = 'compact-sm',
}: {
  label: string;
  request: () => SoundRequest;
  size?: 'compact-sm' | 'sm';
}) {
  const { state, toggle } = usePlayback();
  const playing = state.status === 'playing';
  return (
    <>
      <BusyButton
        size={size}
        variant="default"
        busy={state.status === 'preparing'}
        leftSection={playing ? <IconPlayerStopFilled size={14} /> : <IconVolume size={16} />}
        onClick={() => toggle(request(), false)}
      >
        {playing ? 'Stop' : label}
      </BusyButton>
      {state.error && (
        <Text size="sm" role="alert" c="var(--cranberry)">
          No sound: {state.error}
        </Text>
      )}
    </>
  );
}
