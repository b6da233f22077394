import { Button, type ButtonProps, Popover, Stack, Switch } from '@mantine/core';
import type { ReactNode } from 'react';
import type { ShownLanes } from './measureLayout';

const LANE_WORDS: Record<keyof ShownLanes, string> = {
  words: 'Words',
  chords: 'Chords',
  pictures: 'Pictures of the shapes',
  staff: 'Staff',
  rhythm: 'Rhythm at the strings',
  rests: 'Rests instead of ties',
  fingers: 'Left fingers',
  plucks: 'Plucking hand',
  thumb: 'Thumb apart',
  degrees: 'Degrees',
  count: 'Count',
  difficulty: 'Difficulty',
  remarks: 'Remarks',
};

/** What is shown over and under the strings, to be chosen. */
export function LanesMenu({
  lanes,
  without = [],
  onLane,
  size,
  children,
}: {
  lanes: ShownLanes;
  /** Lanes that are chosen elsewhere. */
  without?: readonly (keyof ShownLanes)[];
  onLane: (lane: keyof ShownLanes, shown: boolean) => void;
  size?: NonNullable<ButtonProps['size']>;
  /** What else is chosen here. */
  children?: ReactNode;
}) {
  return (
    <Popover position="bottom-start" trapFocus returnFocus>
      <Popover.Target>
        <Button {...(size && { size })} variant="default">
          Lanes
        </Button>
      </Popover.Target>
      <Popover.Dropdown aria-label="Lanes">
        <Stack gap={8}>
          {(Object.keys(LANE_WORDS) as (keyof ShownLanes)[])
            .filter(lane => !without.includes(lane))
            .map(lane => (
              <Switch
                key={lane}
                size="sm"
                label={LANE_WORDS[lane]}
                checked={lanes[lane]}
                onChange={event => onLane(lane, event.currentTarget.checked)}
              />
            ))}
          {children}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
