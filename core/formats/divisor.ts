/** The greatest number that divides both; the other where one is 0. */
export const greatestDivisor = (a: number, b: number): number => (b ? greatestDivisor(b, a % b) : a);
