import type { TunePlan } from '#core/capo';
import { fingersText, type Shape, usualFingers, waysToHold } from '#core/shape';
import { Choice } from '../../parts/Choice';

/** Fingerings that are offered at most: what comes after is no hand's choice. */
const OFFERED = 8;

/** A difference of effort that is seen in the figures. */
const SEEN = 0.05;

/** "3 2 – – – 4": fingers from the thickest string to the thinnest. */
const spaced = (fingers: string): string => [...fingers].map(own => (own === '-' ? '–' : own)).join(' ');

/** The fingers of a shape, the same wherever it comes: those that suit the changes, or others that a teacher means. */
export function FingersChoice({
  shape,
  plan: { setup, hand },
  chosen,
  onChoose,
}: {
  shape: Shape;
  plan: TunePlan;
  /** Fingers chosen by hand, as text. */
  chosen: string | undefined;
  onChoose: (fingers: string | undefined) => void;
}) {
  const own = fingersText(shape);
  const ways = waysToHold(shape, setup, hand);
  const usual = usualFingers(shape.frets, setup);
  const offered = ways.filter((way, i) => i < OFFERED || usual.includes(fingersText(way)));
  const easiest = ways[0];
  if (ways.length < 2 || !easiest) return null;
  const words = () => {
    if (chosen !== undefined && chosen !== own) return `${spaced(chosen)} can’t be held under these wishes.`;
    if (chosen !== undefined) return 'Chosen by hand, wherever this shape comes.';
    if (usual.includes(own) && own !== usual[0])
      return `For the changes before and after: ${spaced(usual[0]!)} would move more.`;
    if (own === fingersText(easiest)) return 'The easiest to hold.';
    const ease = shape.cost - easiest.cost < SEEN ? 'as easy' : 'easier';
    return `Usual; ${spaced(fingersText(easiest))} would be ${ease} to hold.`;
  };
  return (
    <Choice
      label={`Fingers, strings ${setup.tuning.length} to 1`}
      w={230}
      options={[
        { value: '', label: chosen === undefined ? `${spaced(own)}, as found` : 'as the changes ask' },
        ...offered.map(way => ({
          value: fingersText(way),
          label: `${spaced(fingersText(way))}, effort ${way.cost.toFixed(1)}`,
        })),
      ]}
      description={words()}
      value={chosen !== undefined && offered.some(way => fingersText(way) === chosen) ? chosen : ''}
      onChange={fingers => onChoose(fingers || undefined)}
    />
  );
}
