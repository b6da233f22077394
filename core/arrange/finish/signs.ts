/** Signs of the source that an arrangement keeps as techniques, and those that it leaves out. */
import type { LedgerDraft } from '../../score';
import type { Tune, TuneEvent } from '../../tune';

/** What a sign of the source is on a plucked string. */
const SIGN_TECHNIQUES: Readonly<Record<string, 'accent' | 'damp'>> = {
  accent: 'accent',
  emphasis: 'accent',
  '>': 'accent',
  marcato: 'accent',
  '^': 'accent',
  staccato: 'damp',
};

/** The techniques that the signs at a note stand for. */
export function signTechniques(event: Pick<TuneEvent, 'signs'>): ('accent' | 'damp')[] {
  return [...new Set((event.signs ?? []).flatMap(sign => SIGN_TECHNIQUES[sign] ?? []))];
}

/** What of the source's signs, remarks and further voices an arrangement does not keep. */
export function leftOutOfSource({ measures }: Pick<Tune, 'measures'>): LedgerDraft[] {
  const told = new Map<string, Set<number>>();
  const tell = (text: string, measure: number) => told.set(text, (told.get(text) ?? new Set()).add(measure));
  for (const [index, { events, others = [] }] of measures.entries()) {
    for (const event of events) {
      for (const sign of event.signs ?? [])
        if (!SIGN_TECHNIQUES[sign]) tell(`the sign "${sign}" of the source is left out`, index);
    }
    if (others.some(voice => voice.events.some(event => event.pitch)))
      tell('the source has another voice here: it can be put in under Parts', index);
  }
  return [...told].map(([text, set]) => ({ measures: [...set], text }));
}
