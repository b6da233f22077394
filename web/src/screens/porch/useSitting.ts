import { useCallback, useEffect, useRef, useState } from 'react';
import type { HandFeeling, Sitting } from '#core/practice';
import { copyOf } from '../../data/copies';
import { newId, save, storeWords } from '../../data/store';
import { useNow } from '../../parts/useNow';

/** The sitting that goes on: kept from its first round, so that nothing is lost when the phone is put away. */
export function useSitting(learningId: string) {
  const [sitting, setSitting] = useState<Sitting>();
  const [minutes, setMinutes] = useState(0);
  const begun = useNow();
  const saving = useRef<Promise<unknown>>(Promise.resolve());
  const [unkept, setUnkept] = useState<string>();
  useEffect(() => {
    const timer = setInterval(() => setMinutes(Math.floor((Date.now() - begun) / 60_000)), 5000);
    return () => clearInterval(timer);
  }, [begun]);
  const stored = useRef(false);
  const keep = useCallback((next: Sitting) => {
    setSitting(next);
    saving.current = saving.current.then(async () => {
      if (!stored.current) {
        await save('sittings', next, undefined);
        stored.current = true;
      } else {
        const copy = copyOf('sittings', next.id);
        await copy.content();
        copy.replace(next);
        await copy.save();
      }
    });
    saving.current = saving.current.then(
      () => setUnkept(undefined),
      cause => setUnkept(storeWords(cause)),
    );
    return saving.current;
  }, []);
  const lasted = () => Math.max(1, Math.round((Date.now() - begun) / 60_000));
  /** A round of a step, clean or not. */
  const round = (step: string, percent: number, clean: boolean) => {
    const before = sitting ?? {
      id: newId(),
      learningId,
      at: begun,
      minutes: 1,
      steps: [],
      hand: 'well' as const,
    };
    const own = before.steps.find(played => played.step === step) ?? { step, percent, rounds: 0, clean: 0 };
    const best = clean
      ? own.clean
        ? Math.max(own.percent, percent)
        : percent
      : own.clean
        ? own.percent
        : Math.min(own.percent, percent);
    const played = { step, percent: best, rounds: own.rounds + 1, clean: own.clean + (clean ? 1 : 0) };
    const steps = [...before.steps.filter(other => other.step !== step), played];
    return keep({ ...before, steps, minutes: lasted() });
  };
  /** The end of it: how the hand feels. */
  const end = (hand: HandFeeling, note: string) => {
    if (!sitting) return Promise.resolve();
    return keep({ ...sitting, minutes: lasted(), hand, ...(note.trim() && { note: note.trim() }) });
  };
  return { sitting, minutes, round, end, unkept };
}
