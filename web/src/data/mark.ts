const marks = new WeakMap<object, number>();
let last = 0;

/** A number for an object that stays the same as long as it is the same object: a light key for what was computed from it. */
export function markOf(object: object): number {
  let mark = marks.get(object);
  if (mark === undefined) {
    mark = ++last;
    marks.set(object, mark);
  }
  return mark;
}
