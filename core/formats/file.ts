/** What readers of files of notes have in common: their parts, and remarks by measure. */

/** A remark about measures of a file, counted from 1; none where it is about the whole. */
export interface FileRemark {
  measures: number[];
  message: string;
}

/** A part of a file, to be chosen. */
export interface FilePart {
  name: string;
  notes: number;
  /** It tells strings and frets. */
  tab: boolean;
}

/** Remarks, each said once with its measures. */
export class RemarkList {
  readonly list: FileRemark[] = [];
  readonly add = (message: string, measure?: number): void => {
    let own = this.list.find(remark => remark.message === message);
    if (!own) {
      own = { measures: [], message };
      this.list.push(own);
    }
    if (measure !== undefined && !own.measures.includes(measure)) own.measures.push(measure);
  };
}

/**
 * A remark as a line: "measures 1–3 and 7: how loud it is played".
 *
 * @example fileRemarkWords({ measures: [1, 2, 5], message: 'cue notes' }) // 'measures 1–2 and 5: cue notes'
 */
export function fileRemarkWords({ measures, message }: FileRemark): string {
  const runs: [number, number][] = [];
  for (const measure of measures) {
    const last = runs.at(-1);
    if (last && measure === last[1] + 1) last[1] = measure;
    else runs.push([measure, measure]);
  }
  if (!runs.length) return message;
  const words = runs.map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`));
  const [last] = words.splice(-1);
  const list = words.length
    ? `${words.slice(0, 8).join(', ')}${words.length > 8 ? ' …' : ''} and ${last}`
    : last;
  return `measure${measures.length > 1 ? 's' : ''} ${list}: ${message}`;
}
