import { useCallbackRef } from '@mantine/hooks';
import { useCallback, useMemo, useState } from 'react';
import type { Arrangement } from '#core/score';
import { asPlayed, playingOrder } from '#core/timeline';
import { usePlayback } from '../../engine/player';
import { hearingOf, type PlaySettings, rampOf } from '../../parts/playing/playSettings';
import { usePlaySettings } from '../../parts/playing/usePlaySettings';
import type { Range } from './useCursor';

/** A place on the strings' time: measure by id, and tick. */
interface TimePlace {
  measure: string;
  start: number;
}

/** Where a loop begins, and where it ends. */
export interface LoopMarks {
  from?: TimePlace | undefined;
  to?: TimePlace | undefined;
}

/** The measures (by place) and the ticks on the road from the first of them that two marks enclose, where they do. */
function windowOf(
  { measures }: Pick<Arrangement, 'measures'>,
  { from, to }: LoopMarks,
): { range: Range; window: { from: number; to: number } } | undefined {
  if (!from || !to) return undefined;
  const [first, last] = [from, to].map(mark => measures.findIndex(m => m.id === mark.measure)) as [
    number,
    number,
  ];
  if (first < 0 || last < first) return undefined;
  const before = measures.slice(first, last).reduce((sum, measure) => sum + measure.ticks, 0);
  const window = { from: from.start, to: before + to.start };
  return window.to > window.from ? { range: { from: first, to: last }, window } : undefined;
}

/** Plays an arrangement from the cursor on, or the chosen measures, or what two marks enclose, again and again. */
export function usePlaying(arrangement: Arrangement, at: number, range: Range | undefined) {
  /** Where what is heard is another arrangement: the written measure of each that it plays. */
  const [origin, setOrigin] = useState<number[]>();
  /** Place on the road at which playing began; none in a loop. */
  const [begun, setBegun] = useState<number>();
  const [marks, setMarks] = useState<LoopMarks>({});
  const marked = windowOf(arrangement, marks);
  const [settings, setStored] = usePlaySettings('workbench');
  const { player, state, toggle: play, rehear } = usePlayback();
  // The same function for every state, so that the band of buttons need not draw again with each key.
  const toggle = useCallbackRef(() => {
    const heard = settings.loop ? { arrangement, origin: undefined } : asPlayed(arrangement);
    const all = playingOrder(heard.arrangement);
    const first = heard.origin ? heard.origin.indexOf(at) : all.indexOf(at);
    const chosen = marked?.range ?? range ?? { from: at, to: at };
    // A loop plays the chosen measures as written; playing on starts at the cursor's measure.
    const order = settings.loop
      ? Array.from({ length: chosen.to - chosen.from + 1 }, (_, i) => chosen.from + i)
      : all.slice(Math.max(0, first));
    setOrigin(heard.origin);
    setBegun(settings.loop ? undefined : Math.max(0, first));
    const hearing = hearingOf(settings);
    const request = { what: 'arrangement' as const, arrangement: heard.arrangement, order, ...hearing };
    const loop = { ...request, pause: settings.pause, ...(marked && { window: marked.window }) };
    if (settings.loop) play(loop, true, rampOf(settings));
    else play(request, false);
  });
  const setSettings = useCallback(
    (next: PlaySettings) => {
      setStored(next);
      rehear(hearingOf(next));
    },
    [setStored, rehear],
  );
  const { cue } = state;
  /** The written measure that is heard, the tick in it, and its place on the road where that is followed. */
  const heardAt = useMemo(
    () =>
      cue && {
        measure: origin?.[cue.measure] ?? cue.measure,
        tick: cue.tick,
        road: begun === undefined ? undefined : begun + cue.position,
      },
    [cue, origin, begun],
  );
  return {
    settings,
    setSettings,
    player,
    state,
    heardAt,
    toggle,
    marks,
    setMarks,
    marked: marked !== undefined,
  };
}
