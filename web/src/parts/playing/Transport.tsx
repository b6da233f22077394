import { Button, Popover, Slider, Stack, Switch, Text } from '@mantine/core';
import { IconAdjustments, IconPlayerPlayFilled, IconPlayerStopFilled, IconRepeat } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import type { Role } from '#core/score';
import type { PlayerState } from '../../engine/player';
import { BusyIcon } from '../BusyButton';
import { Choice } from '../Choice';
import mastheadStyles from '../Masthead.module.css';
import { PERCENTS, type PlaySettings } from './playSettings';
import styles from './Transport.module.css';

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
  // A loop that gets faster tells the tempo that is heard.
  const percent = state.percent ?? settings.percent;
  return (
    <section className={styles.transport} aria-label="Playing" data-player>
      <BusyIcon
        size={44}
        radius="xl"
        color="marigold.6"
        variant="filled"
        onClick={onToggle}
        busy={state.status === 'preparing'}
        aria-label={playing ? 'Stop' : 'Play'}
      >
        {playing ? <IconPlayerStopFilled /> : <IconPlayerPlayFilled />}
      </BusyIcon>
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
          Tempo <strong>{Math.round((tempo * percent) / 100)}</strong> · {percent} %
        </Text>
        <Slider
          w={150}
          min={PERCENTS.least}
          max={PERCENTS.most}
          step={5}
          value={percent}
          onChange={value => set({ percent: value })}
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
      <SoundChoice settings={settings} set={set} />
      {state.error && (
        <Text size="sm" role="alert">
          No sound: {state.error}
        </Text>
      )}
      <div className={mastheadStyles.fill} style={{ flex: 1 }} />
      {children}
    </section>
  );
}

const LEVEL_WORDS: Record<Role | 'click', string> = {
  melody: 'Melody',
  bass: 'Bass',
  inner: 'Inner notes',
  click: 'Click',
};
const RAMPS = [0, 1, 2, 3, 5, 10];

/** How loud each part is, what the guitar is strung with, and how a loop comes round. */
function SoundChoice({
  settings,
  set,
}: {
  settings: PlaySettings;
  set: (change: Partial<PlaySettings>) => void;
}) {
  const { levels, spoken, strings, pause, ramp } = settings;
  return (
    <Popover position="top" trapFocus returnFocus width={280}>
      <Popover.Target>
        <Button
          variant="transparent"
          c="var(--on-velvet)"
          leftSection={<IconAdjustments size={18} />}
          aria-label="Sound: parts, strings, loop"
        >
          Sound
        </Button>
      </Popover.Target>
      <Popover.Dropdown aria-label="Sound">
        <Stack gap={10}>
          {(Object.keys(LEVEL_WORDS) as (Role | 'click')[]).map(part => (
            <div key={part}>
              <Text size="sm">
                {LEVEL_WORDS[part]} {levels[part] ? `${levels[part]} %` : 'silent'}
              </Text>
              <Slider
                min={0}
                max={100}
                step={10}
                color="spruce"
                value={levels[part]}
                onChange={level => set({ levels: { ...levels, [part]: level } })}
                label={null}
                thumbLabel={`${LEVEL_WORDS[part]}, how loud`}
              />
            </div>
          ))}
          <Switch
            size="sm"
            label="Counts are spoken"
            checked={spoken}
            onChange={event => set({ spoken: event.currentTarget.checked })}
          />
          <Choice
            size="xs"
            label="Guitar strings"
            options={[
              { value: 'steel' as const, label: 'steel' },
              { value: 'nylon' as const, label: 'nylon' },
            ]}
            value={strings}
            onChange={value => set({ strings: value })}
          />
          <Choice
            size="xs"
            label="A loop gets faster each round"
            options={RAMPS.map(value => ({ value, label: value ? `by ${value} %` : 'no' }))}
            value={ramp}
            onChange={value => set({ ramp: value })}
          />
          <Switch
            size="sm"
            label="A measure of counting between rounds"
            checked={pause}
            onChange={event => set({ pause: event.currentTarget.checked })}
          />
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
