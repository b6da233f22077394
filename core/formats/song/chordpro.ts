/** The directives of ChordPro (file format 6): what each says of a song. */
/** What a directive does. */
export type Directive =
  | {
      kind: 'head';
      field: 'title' | 'by' | 'key' | 'meter' | 'tempo' | 'capo' | 'instrument' | 'tuning' | 'kind' | 'feel';
      value: string;
    }
  | { kind: 'each'; value: string }
  | { kind: 'strum'; value: string }
  | { kind: 'melody'; value: string }
  | { kind: 'start'; what: string; label: string }
  | { kind: 'end'; what: string }
  | { kind: 'recall'; label: string }
  | { kind: 'define'; value: string }
  | { kind: 'comment'; value: string }
  | { kind: 'new-song' }
  /** How it looks: nothing is lost without it. */
  | { kind: 'looks' }
  /** Known, and not kept: named. */
  | { kind: 'left-out'; name: string };

const HEADS: Record<string, Extract<Directive, { kind: 'head' }>['field']> = {
  title: 'title',
  t: 'title',
  artist: 'by',
  composer: 'by',
  lyricist: 'by',
  key: 'key',
  time: 'meter',
  tempo: 'tempo',
  capo: 'capo',
};

const SHORT: Record<string, [start: boolean, what: string]> = {
  soc: [true, 'chorus'],
  eoc: [false, 'chorus'],
  sov: [true, 'verse'],
  eov: [false, 'verse'],
  sob: [true, 'bridge'],
  eob: [false, 'bridge'],
  sot: [true, 'tab'],
  eot: [false, 'tab'],
  sog: [true, 'grid'],
  eog: [false, 'grid'],
};

const LOOKS =
  /^(new_page|np|new_physical_page|npp|column_break|colb|columns|col|titles|pagetype|diagrams|grid|g|no_grid|ng|(text|chord|tab|title|toc|footer|label|chorus|grid)(font|size|colou?r)|[tc][fsc])$/;

/**
 * Reads a directive: what stands between braces.
 *
 * @returns undefined where it is none that the format has
 */
export function readDirective(text: string): Directive | undefined {
  const [, raw, rest = ''] = /^\s*([\w-]+!?)\s*[:\s]?\s*(.*?)\s*$/s.exec(text) ?? [];
  if (!raw) return undefined;
  // "-guitar": a directive for one instrument or user only, here for all.
  const name = raw.toLowerCase().replace(/-.*$/, '');
  const head = HEADS[name];
  if (head) return { kind: 'head', field: head, value: rest };
  const short = SHORT[name];
  if (short)
    return short[0]
      ? { kind: 'start', what: short[1], label: labelOf(rest) }
      : { kind: 'end', what: short[1] };
  const part = /^(start|end)_of_(\w+)$/.exec(name);
  if (part)
    return part[1] === 'start'
      ? { kind: 'start', what: part[2]!, label: labelOf(rest) }
      : { kind: 'end', what: part[2]! };
  switch (name) {
    case 'meta':
      return readMeta(rest);
    case 'chorus':
      return { kind: 'recall', label: labelOf(rest) };
    case 'define':
    case 'chord':
      return { kind: 'define', value: rest };
    case 'comment':
    case 'c':
    case 'comment_italic':
    case 'ci':
    case 'comment_box':
    case 'cb':
    case 'highlight':
      return { kind: 'comment', value: rest };
    case 'new_song':
    case 'ns':
      return { kind: 'new-song' };
    case 'subtitle':
    case 'st':
    case 'sorttitle':
    case 'sortartist':
    case 'arranger':
    case 'copyright':
    case 'album':
    case 'year':
    case 'duration':
    case 'image':
    case 'transpose':
      return { kind: 'left-out', name };
  }
  return LOOKS.test(name) ? { kind: 'looks' } : undefined;
}

function readMeta(rest: string): Directive {
  const [, name = '', value = ''] = /^(\w+)\s+(.*)$/.exec(rest) ?? [];
  if (name === 'each') return { kind: 'each', value };
  if (name === 'strum' || name === 'melody') return { kind: name, value };
  if (name === 'instrument' || name === 'tuning' || name === 'kind' || name === 'feel')
    return { kind: 'head', field: name, value };
  const head = HEADS[name.toLowerCase()];
  return head ? { kind: 'head', field: head, value } : { kind: 'left-out', name: `meta ${name}` };
}

/** The label of a part: plain, or as an attribute (label="Verse 1"). */
function labelOf(text: string): string {
  const quoted = /label\s*=\s*(["'])(.*?)\1/.exec(text);
  return quoted ? quoted[2]! : text.includes('=') ? '' : text;
}

/**
 * A chord that is defined: "Gadd base-fret 1 frets 3 2 0 0 3 3", strings from the thickest to the thinnest, frets counted
 * from the base fret.
 *
 * @returns its name with its frets as shape text, or what is wrong
 */
export function readDefine(value: string): { name: string; shape: string } | { error: string } {
  const [, name, , base = '1', frets] =
    /^(\S+)\s+(base-fret\s+(\d+)\s+)?frets((?:\s+(?:[xXnN-]|-1|\d{1,2}))+)/.exec(value) ?? [];
  if (!name || !frets) return { error: 'a defined chord is written as "name base-fret 1 frets x 3 2 0 1 0"' };
  const shift = Number(base) - 1;
  const strings = frets
    .trim()
    .split(/\s+/)
    .map(fret => (/^\d+$/.test(fret) ? String(fret === '0' ? 0 : Number(fret) + shift) : 'x'));
  return { name, shape: strings.join(' ') };
}
