/** Texts with slips of the pen: signs put in or lost, lines lost or said again elsewhere. */
import fc from 'fast-check';

/** Texts out of some, with slips made of some signs. */
export function slipped(texts: readonly string[], signs: string): fc.Arbitrary<string> {
  const slip = fc.record({ at: fc.nat(), how: fc.nat(3), sign: fc.constantFrom(...signs) });
  return fc.tuple(fc.constantFrom(...texts), fc.array(slip, { maxLength: 12 })).map(([typed, slips]) => {
    let text = typed;
    for (const { at, how, sign } of slips) {
      const place = at % (text.length + 1);
      const lines = text.split('\n');
      if (how === 0) text = text.slice(0, place) + sign + text.slice(place);
      else if (how === 1) text = text.slice(0, place) + text.slice(place + 1);
      else if (how === 2) text = lines.toSpliced(at % lines.length, 1).join('\n');
      else text = lines.toSpliced(at % lines.length, 0, lines[place % lines.length]!).join('\n');
    }
    return text;
  });
}
