/** Other ways to play a passage: kept, and put in the place of what stands there. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { type Arrangement, contentOf, MOST_NAME, MOST_VARIANTS, measureIndex, type Variant } from '../score';
import type { EditValues } from './definition';

/** Why a name can't be given. */
export function nameFault(name: string): string | undefined {
  if (!name.trim()) return 'it needs a name';
  return name.trim().length > MOST_NAME ? `a name has at most ${MOST_NAME} characters` : undefined;
}

/**
 * Keeps the measures named, as they stand here or `of` another arrangement, as another way to play them.
 *
 * @returns why it can't be done
 */
export function keepVariant(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  { name, present, of }: EditValues['keep-variant'],
  before: Arrangement,
): string | undefined {
  const fault = nameFault(name) ?? nameFault(present);
  if (fault) return fault;
  const found = placesOf(before, measureIds);
  if (typeof found === 'string') return found;
  const content = measureIds.map((id, i) => {
    const own = of ? of.measures[measureIndex(of, id)] : before.measures[found[i]!];
    return own?.ticks === before.measures[found[i]!]!.ticks ? contentOf(own) : undefined;
  });
  if (!content.every(own => own !== undefined)) return 'its measures have another length there';
  if ((before.variants?.length ?? 0) >= MOST_VARIANTS) return `${MOST_VARIANTS} variants are kept at most`;
  const ids = new IdGiver(draft.nextId);
  const variant: Variant = {
    id: ids.give('variant'),
    name: name.trim(),
    present: present.trim(),
    measures: [...measureIds],
    content,
  };
  draft.variants = [...(draft.variants ?? []), variant as Draft<Variant>];
  draft.nextId = Math.max(ids.nextId, of?.nextId ?? 0);
  return undefined;
}

/** Puts a variant in the place of what stands there, and keeps that as the variant. @returns why it can't be done */
export function swapVariant(
  draft: Draft<Arrangement>,
  variantId: string,
  before: Arrangement,
): string | undefined {
  const variant = before.variants?.find(({ id }) => id === variantId);
  if (!variant) return 'there is no such variant';
  const fault = variantFault(before, variant);
  if (fault) return fault;
  const found = placesOf(before, variant.measures) as number[];
  for (const [i, index] of found.entries()) {
    const { rests: _rests, strokes: _strokes, ...rest } = before.measures[index]!;
    draft.measures[index] = { ...rest, ...variant.content[i]! } as Draft<Arrangement>['measures'][number];
  }
  const own = draft.variants!.find(({ id }) => id === variantId)!;
  own.content = found.map(index => contentOf(before.measures[index]!)) as Draft<Variant>['content'];
  own.name = variant.present;
  own.present = variant.name;
  return undefined;
}

/** Forgets a variant. @returns why it can't be done */
export function dropVariant(
  draft: Draft<Arrangement>,
  variantId: string,
  before: Arrangement,
): string | undefined {
  const others = (before.variants ?? []).filter(({ id }) => id !== variantId);
  if (others.length === (before.variants?.length ?? 0)) return 'there is no such variant';
  if (others.length) draft.variants = others as Draft<Variant>[];
  else delete draft.variants;
  return undefined;
}

/**
 * Why a variant can't stand in the score as that is now; undefined when it can.
 *
 * @example variantFault(arrangement, variant) // undefined
 */
export function variantFault(arrangement: Arrangement, variant: Variant): string | undefined {
  const found = placesOf(arrangement, variant.measures);
  if (typeof found === 'string') return found;
  return found.some((index, i) => arrangement.measures[index]!.ticks !== variant.content[i]?.ticks)
    ? 'its measures have another length by now'
    : undefined;
}

/** Places of measures that follow each other, or why they do not. */
function placesOf(arrangement: Arrangement, measureIds: readonly string[]): number[] | string {
  const found = measureIds.map(id => measureIndex(arrangement, id));
  if (!found.length || found.includes(-1)) return 'its measures are no longer there';
  return found.every((index, i) => index === found[0]! + i)
    ? found
    : 'its measures no longer follow each other';
}
