import { ActionIcon, Button, Slider, Switch, Text } from '@mantine/core';
import { IconPlayerPlayFilled, IconPlayerStopFilled, IconRepeat } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import type { PlayerState } from '../engine/player';
import './Transport.css';

export interface PlaySettings {
  /** Per cent of the tune's tempo, 40–120. */
  percent: number;
  click: boolean;
  countIn: boolean;
  loop: boolean;
}

export interface TransportProps {
  state: PlayerState;
  settings: PlaySettings;
  /** Full tempo, in beats a minute. */
  tempo: number;
  loopLabel?: string;
  onSettings: (settings: PlaySettings) => void;
  onToggle: () => void;
  children?: ReactNode;
}

const SWITCH_COLORS = { label: { color: 'var(--on-velvet)' } };

/** The velvet band below: play, loop, tempo, count-in, click. */
export function Transport({
  state,
  settings,
  tempo,
  loopLabel,
  onSettings,
  onToggle,
  children,
}: TransportProps) {
  const playing = state.status !== 'stopped';
  const set = (change: Partial<PlaySettings>) => onSettings({ ...settings, ...change });
  return (
    <section className="transport" aria-label="Playing">
      <ActionIcon
        size={44}
        radius="xl"
        color="marigold.6"
        variant="filled"
        onClick={onToggle}
        loading={state.status === 'preparing'}
        aria-label={playing ? 'Stop' : 'Play'}
      >
        {playing ? <IconPlayerStopFilled /> : <IconPlayerPlayFilled />}
      </ActionIcon>
      <Button
        variant={settings.loop ? 'filled' : 'outline'}
        color={settings.loop ? 'velvet.5' : 'gray.4'}
        leftSection={<IconRepeat size={18} />}
        aria-pressed={settings.loop}
        onClick={() => set({ loop: !settings.loop })}
      >
        {loopLabel ?? 'Loop'}
      </Button>
      <div style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
        <Text size="sm" w={128}>
          Tempo <strong>{Math.round((tempo * settings.percent) / 100)}</strong> · {settings.percent} %
        </Text>
        <Slider
          w={150}
          min={40}
          max={120}
          step={5}
          value={settings.percent}
          onChange={percent => set({ percent })}
          label={null}
          color="marigold"
          thumbLabel="Tempo in per cent of the tune's"
        />
      </div>
      <Switch
        label="Count in"
        checked={settings.countIn}
        onChange={e => set({ countIn: e.currentTarget.checked })}
        styles={SWITCH_COLORS}
        color="spruce"
      />
      <Switch
        label="Click"
        checked={settings.click}
        onChange={e => set({ click: e.currentTarget.checked })}
        styles={SWITCH_COLORS}
        color="spruce"
      />
      {state.error && (
        <Text size="sm" role="alert">
          No sound: {state.error}
        </Text>
      )}
      <div className="fill" style={{ flex: 1 }} />
      {children}
    </section>
  );
}
