import { useEffect, useRef, useState } from 'react';
import type { Take } from '#core/listen';
import { Microphone, microphoneWords } from '../../engine/microphone';
import type { PlayerState } from '../../engine/player';
import type { SoundRequest } from '../../engine/sound.worker';
import { soundMaker } from '../../engine/workers';

type Played = Extract<SoundRequest, { what: 'arrangement' }>;

/** Milliseconds that are heard behind its end. */
const AFTER = 800;
/** Seconds that are heard before the music begins, for a note that comes too early. */
const BEFORE = 0.3;

/** Listens while a round goes on: from its first beat to its end, and says how it was played. */
export function useListening(state: PlayerState, wanted: boolean) {
  const [take, setTake] = useState<Take>();
  const [trouble, setTrouble] = useState<string>();
  const microphone = useRef<Microphone>(undefined);
  const begun = useRef<number>(undefined);
  const asked = useRef<Played>(undefined);
  const music = state.cue !== undefined;
  useEffect(() => () => microphone.current?.close(), []);
  /** Opens the microphone for a round; it waits for that. */
  const prepare = async (round: Played) => {
    asked.current = round;
    setTake(undefined);
    setTrouble(undefined);
    if (!wanted) return;
    try {
      microphone.current ??= await Microphone.open();
    } catch (cause) {
      setTrouble(microphoneWords(cause));
    }
  };
  useEffect(() => {
    const own = microphone.current;
    if (!own || !wanted) return;
    if (music && begun.current === undefined) begun.current = own.heard;
    const round = asked.current;
    if (state.status !== 'stopped' || begun.current === undefined || !round) return;
    const from = Math.max(0, begun.current - Math.round(BEFORE * own.sampleRate));
    begun.current = undefined;
    // Who comes in late is heard to the end.
    const timer = setTimeout(
      () =>
        soundMaker()
          .judge(round, own.since(from), own.sampleRate)
          .then(setTake, cause => setTrouble(microphoneWords(cause))),
      AFTER,
    );
    return () => clearTimeout(timer);
  }, [music, state.status, wanted]);
  return { take, trouble, prepare, show: setTake };
}
