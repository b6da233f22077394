import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_HAND, gripFault } from '../hand';
import { type InstrumentId, standardSetup } from '../instrument';
import {
  bestShapePath,
  chosenShape,
  fingeringsOf,
  fingerShapes,
  fingersText,
  OPEN_SHAPES,
  type Shape,
  shapeText,
  usualFingers,
} from './index';

const guitar = standardSetup('guitar');
const shapesOf = (texts: string, setup = guitar): Shape[] =>
  texts.split(' ').map(text => ({ ...chosenShape(text, setup, DEFAULT_HAND)!, usual: true }));
const evenly = (shapes: readonly Shape[]) => shapes.map(() => ({ hold: 1 / shapes.length, change: 1 }));
const fingersOf = (texts: string, chosen = {}, setup = guitar): Record<string, string> => {
  const shapes = shapesOf(texts, setup);
  const held = fingerShapes(shapes, setup, DEFAULT_HAND, evenly(shapes), {}, { chosen });
  expect(held.map(({ frets }) => shapeText(frets))).toEqual(texts.split(' '));
  return Object.fromEntries(held.map(shape => [shapeText(shape.frets), fingersText(shape)]));
};

describe('the fingers of shapes that follow each other', () => {
  it('text of fingers runs like that of frets', () => {
    expect(fingersText(shapesOf('x32010')[0]!)).toBe('-32-1-');
  });
  it('G is held by 3, 2 and 4 where C comes and goes, by 2, 1 and 3 where other fingers gain little (common practice)', () => {
    expect(fingersOf('320003 x32010 320003 x32010')['320003']).toBe('32---4');
    expect(fingersOf('320003 xx0232 x24432 x02220')['320003']).toBe('21---3');
    expect(fingersOf('320003')['320003']).toBe('21---3');
  });
  it('Em is held by 2 and 3 where B7 comes, whose middle finger stays, by 1 and 2 where G does, whose index stays (common practice)', () => {
    expect(fingersOf('022000 x21202 022000 x21202')['022000']).toBe('-23---');
    expect(fingersOf('022000 320003 022000 320003', { '320003': '21---3' })['022000']).toBe('-12---');
  });
  it('what is another chord less a finger, or one more, keeps its fingers (common practice)', () => {
    expect(fingersOf('x32010 x32000 x32010 x02210').x32000).toBe('-32---');
    expect(fingersOf('xx0232 xx0230 xx0232 xx0233').xx0230).toBe('---13-');
    expect(fingersOf('022100 022200 022100')['022200']).toBe('-234--');
    expect(fingersOf('x32010 x20003 x02210 x32010').x20003).toMatch(/^-2---[34]$/);
  });
  it('what every player holds in one way stays so, whatever comes', () => {
    const one = ['x32010', 'xx0232', '022100', 'x02210', '020100'];
    for (const before of ['320003', 'x02220', 'x21202', 'xx0231'])
      for (const text of one) {
        const alone = fingersText(shapesOf(text)[0]!);
        expect(fingersOf([before, text, before, text].join(' '))[text], `${before} ${text}`).toBe(alone);
      }
  });
  it('fingers chosen by hand hold wherever the shape comes; what the hand can not hold is left aside', () => {
    expect(fingersOf('x02220 xx0232 x02220', { x02220: '--213-' }).x02220).toBe('--213-');
    expect(fingersOf('x02220 xx0232 x02220', { x02220: '--111-' }).x02220).toBe('--111-');
    expect(fingersOf('x02220 xx0232', { x02220: '--321-' }).x02220).toBe('--123-');
    expect(fingersOf('x02220 xx0232', { '320003': '32---4' }).x02220).toBe('--123-');
  });
  it('with further bass strings they are the same', () => {
    const seven = standardSetup('seven-string' as InstrumentId);
    expect(fingersOf('x320003 xx32010 x320003 xx32010', {}, seven).x320003).toBe('-32---4');
  });
  it('usual fingers can be held, and are those of a shape that everybody knows', () => {
    const known = new Set(Object.values(OPEN_SHAPES).flat());
    let several = 0;
    for (const text of known) {
      const [{ frets }] = shapesOf(text) as [Shape];
      const ways = fingeringsOf(frets, guitar, DEFAULT_HAND);
      for (const fingers of usualFingers(frets, guitar)) {
        several += 1;
        const way = ways.find(({ grip }) => fingersText({ frets, grip }) === fingers);
        expect(way, `${text} ${fingers}`).toBeDefined();
        expect(gripFault(guitar, DEFAULT_HAND, way!.grip)).toBeUndefined();
      }
    }
    expect(several).toBeGreaterThan(15);
  });
  it('where the hardest change is to be easy, it is no harder than where all is', () => {
    const texts = ['320003', 'x32010', 'xx0232', '022000', 'x02020', 'x21202'];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...texts), { minLength: 2, maxLength: 10 }), progression => {
        const shapes = shapesOf(progression.join(' '));
        const weights = evenly(shapes);
        const worst = (goal: 'total' | 'worst') =>
          bestShapePath(
            guitar,
            fingerShapes(shapes, guitar, DEFAULT_HAND, weights, {}, { goal }).map(shape => [shape]),
            'worst',
            weights,
          ).worst;
        expect(worst('worst')).toBeLessThanOrEqual(1.03 * worst('total') + 1e-9);
      }),
    );
  });
  it('no other fingers of one shape would save what they must, and each shape has one fingering', () => {
    const texts = ['320003', 'x32010', 'xx0232', '022000', 'x02220', 'x02020', 'x02210', 'xx0231', 'x21202'];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...texts), { minLength: 2, maxLength: 12 }), progression => {
        const shapes = shapesOf(progression.join(' '));
        const weights = evenly(shapes);
        const total = (held: readonly Shape[]) =>
          bestShapePath(
            guitar,
            held.map(shape => [shape]),
            'total',
            weights,
          ).total;
        const held = fingerShapes(shapes, guitar, DEFAULT_HAND, weights);
        for (const text of new Set(progression)) {
          const own = held.filter((_, i) => progression[i] === text);
          expect(new Set(own.map(fingersText)).size).toBe(1);
          const { frets } = own[0]!;
          for (const { grip, effort, cost } of fingeringsOf(frets, guitar, DEFAULT_HAND)) {
            if (!usualFingers(frets, guitar).includes(fingersText({ frets, grip }))) continue;
            const other = held.map((shape, i) =>
              progression[i] === text ? { ...shape, grip, effort, cost } : shape,
            );
            // What others must save is 7 % of what the shape's own changes cost.
            expect(total(held)).toBeLessThanOrEqual(total(other) + 0.075 * total(shapes) + 1e-9);
          }
        }
      }),
    );
  });
});
