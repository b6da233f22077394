import { useCallbackRef, useLocalStorage } from '@mantine/hooks';
import { useCallback } from 'react';
import type { Arrangement } from '#core/score';
import { playingOrder } from '#core/timeline';
import { usePlayback } from '../../engine/player';
import type { PlaySettings } from '../../parts/Transport';
import type { Range } from './useCursor';

const DEFAULT_PLAY: PlaySettings = { percent: 100, click: false, countIn: true, loop: false };

/** Plays an arrangement from the cursor on, or the chosen measures again and again. */
export function usePlaying(arrangement: Arrangement, at: number, range: Range | undefined) {
  const [settings, setStored] = useLocalStorage<PlaySettings>({
    key: 'play-settings',
    defaultValue: DEFAULT_PLAY,
  });
  const { player, state, toggle: play, retime } = usePlayback();
  // The same function for every state, so that the band of buttons need not draw again with each key.
  const toggle = useCallbackRef(() => {
    const all = playingOrder(arrangement);
    const chosen = range ?? { from: at, to: at };
    // A loop plays the chosen measures as written; playing on starts at the cursor's measure.
    const order = settings.loop
      ? Array.from({ length: chosen.to - chosen.from + 1 }, (_, i) => chosen.from + i)
      : all.slice(Math.max(0, all.indexOf(at)));
    const { percent, click, countIn } = settings;
    play({ what: 'arrangement', arrangement, order, percent, click, countIn }, settings.loop);
  });
  const setSettings = useCallback(
    (next: PlaySettings) => {
      setStored(next);
      retime(next.percent);
    },
    [setStored, retime],
  );
  return { settings, setSettings, player, state, toggle };
}
