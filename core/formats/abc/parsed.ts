/** What the parser hands over of a tune in ABC; its own types describe the drawn score, not these parsed parts. */

export interface AbcPitch {
  pitch: number;
  accidental?: string;
  startTie?: object;
  startSlur?: unknown[];
  endSlur?: unknown[];
}
export interface AbcElement {
  el_type: string;
  startChar: number;
  endChar: number;
  duration?: number | number[];
  decoration?: string[];
  bpm?: number;
  preString?: string;
  pitches?: AbcPitch[];
  rest?: { type: string; text?: string | number };
  chord?: { name: string; position: string }[];
  gracenotes?: AbcPitch[];
  lyric?: { syllable: string; divider: string }[];
  startTriplet?: number;
  startBeam?: boolean;
  tripletMultiplier?: number;
  endTriplet?: boolean;
  startSlur?: unknown[];
  endSlur?: unknown[];
  type?: string;
  startEnding?: string;
  endEnding?: boolean;
  title?: string;
  accidentals?: { acc: string; note: string }[];
  root?: string;
  acc?: string;
  mode?: string;
  value?: { num: string; den: string }[];
}
export interface AbcStaff {
  key: AbcElement;
  meter?: AbcElement;
  clef?: { type: string };
  /** Names of its voices. */
  title?: (string | undefined)[];
  voices: AbcElement[][];
}
export interface AbcParsed {
  lines: { staff?: AbcStaff[] }[];
  warnings?: string[];
  metaText: Record<string, unknown> & {
    tempo?: { startChar?: number; duration?: number[]; bpm?: number };
    partOrder?: string;
    unalignedWords?: unknown[];
  };
}
