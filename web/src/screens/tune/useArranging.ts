import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import {
  type ArrangeProblem,
  type ArrangeRequest,
  type ArrangeResult,
  BEGINNERS,
  type TextureName,
  textureIn,
} from '#core/arrange';
import { type KeyPlan, takenKey } from '#core/capo';
import { DEFAULT_HAND } from '#core/hand';
import { type InstrumentId, standardSetup } from '#core/instrument';
import type { Level, Style } from '#core/score';
import { hasMelody, type Tune } from '#core/tune';
import { markOf as objectMark } from '../../data/mark';
import { useStoreChange } from '../../data/queries';
import { newId, save } from '../../data/store';
import { useTunePlan } from '../../engine/useTunePlan';
import { arranger, arrangeStoppable, warmArranging } from '../../engine/workers';

export type Arranging = ReturnType<typeof useArranging>;

/** How a tune is to be arranged for the first time, by what was planned for it and what is chosen; and having it done. */
export function useArranging(tune: Tune) {
  const navigate = useNavigate();
  const sings = hasMelody(tune);
  /** What it is played on where not as planned. */
  const [otherwise, setOtherwise] = useState<InstrumentId>('guitar');
  const [style, setStyle] = useState<Style>(sings ? 'fingerstyle' : 'pattern');
  const [level, setLevel] = useState<Level>(3);
  const [texture, setTexture] = useState<TextureName>();
  const [capo, setCapo] = useState('auto');
  const settling = useTunePlan(tune.id);
  const plan = settling?.settled ? settling.plan : undefined;
  const [asPlanned, setAsPlanned] = useState(true);
  const planned = asPlanned ? plan : undefined;
  const keyTaken = planned !== undefined && !planned.keyOpen;
  const [problem, setProblem] = useState<ArrangeProblem>();
  const [progress, setProgress] = useState<number>();
  const stop = useRef(() => {});
  useEffect(() => {
    warmArranging();
    // Leaving the screen stops what is still being made.
    return () => stop.current();
  }, []);

  const setup = planned?.setup ?? standardSetup(plan ? otherwise : 'guitar');
  // Key & capo and Shapes go on with the instrument that is chosen here.
  const setInstrument = (id: InstrumentId) => {
    if (plan && !planned) setOtherwise(id);
    else settling?.change({ setup: standardSetup(id), choices: {} });
  };
  const strings = setup.tuning.length;
  const textured = style === 'fingerstyle';
  const overBass = strings > 4 && (textured || style === 'chord-melody');
  const hand = planned?.hand ?? DEFAULT_HAND;
  const beginner = hand.beginner || level <= BEGINNERS;
  const offering = overBass && !keyTaken && capo === 'auto' && sings;
  const offers = useQuery({
    queryKey: ['offers', objectMark(tune), setup, hand, beginner],
    queryFn: () => arranger().offers(tune, { setup, hand, overBass: true, beginner }),
    enabled: offering,
  });

  /** What it is played on, and how, as it was planned. */
  const played = () => ({
    instrument: setup.instrument,
    ...(planned && {
      setup,
      hand,
      transposition: planned.transposition,
      choices: planned.choices,
      wishes: planned.wishes,
    }),
  });
  const asked = (): ArrangeRequest => ({
    id: newId(),
    style,
    settings: {
      level,
      ...(style === 'pattern' && planned?.pattern && { pattern: planned.pattern }),
      ...(textured && level > 2 && texture && textureIn(texture, tune.meter)),
    },
    ...played(),
    capo: keyTaken ? setup.capo : capo === 'auto' ? 'auto' : Number(capo),
  });
  const arrange = useStoreChange(async () => {
    setProblem(undefined);

    const result = await new Promise<ArrangeResult | { error: string } | undefined>(resolve => {
      const end = arrangeStoppable(tune, asked(), setProgress, resolve);
      stop.current = () => {
        end();
        resolve(undefined);
      };
    });
    setProgress(undefined);
    if (!result) return;
    if ('error' in result) throw new Error(result.error);
    if (result.problem) {
      setProblem(result.problem);
      return;
    }
    await save('arrangements', result.arrangement, undefined);
    navigate(`/arrangement/${result.arrangement.id}`, { state: { isNew: true } });
  });
  const writeIt = useStoreChange(async () => {
    const made = await arranger().emptyArrangement(tune, {
      id: newId(),
      style: style === 'pattern' ? 'fingerstyle' : style,
      ...played(),
      capo: keyTaken ? setup.capo : capo === 'auto' ? 0 : Number(capo),
    });
    await save('arrangements', made, undefined);
    navigate(`/arrangement/${made.id}`, { state: { isNew: true } });
  });
  const planAs = (offered: KeyPlan) => {
    settling?.change({ ...takenKey(offered), overBass: true });
    setAsPlanned(true);
  };
  return {
    style,
    setStyle,
    level,
    setLevel,
    texture,
    setTexture,
    capo,
    setCapo,
    plan,
    planned,
    asPlanned,
    setAsPlanned,
    keyTaken,
    setup,
    /** Undefined until the plan is read: before that there is nothing to go on with. */
    setInstrument: settling && setInstrument,
    /** Other keys and tunings with more room, where they may be asked for. */
    offers: offering ? offers.data : undefined,
    offersError: offers.error,
    planAs,
    asked,
    problem,
    setProblem,
    arrange,
    writeIt,
    progress,
    stop: () => stop.current(),
  };
}
