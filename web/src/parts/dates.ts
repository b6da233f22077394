import { format } from 'date-fns';

/** Whether this machine tells the time of twelve hours, or of 24. */
const TWELVE = new Intl.DateTimeFormat(undefined, { hour: 'numeric' }).resolvedOptions().hour12;

/** A time of day, as this machine tells it: "5:30 PM" or "17:30". */
export const timeOf = (at: number | Date): string => format(at, TWELVE ? 'h:mm a' : 'HH:mm');

/** A day with the name of its month, which no country reads otherwise: "3 Dec 2026". */
export const dayOf = (at: number | Date): string => format(at, 'd MMM yyyy');
