/** A part as plans tell it. */
export const percent = (part: number): string => `${Math.round(100 * part)} %`;
