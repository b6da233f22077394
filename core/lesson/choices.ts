/** How a lesson is cut, and what a teacher changed in it by hand: what is kept of that. */

import type { ClimbRule } from './ladder';

/** What is taught at a time. */
export const LESSON_UNITS = ['beat', 'measure', 'phrase', 'section'] as const;
export type LessonUnit = (typeof LESSON_UNITS)[number];

/** From which end what was learned is put together. */
export const JOININGS = ['forwards', 'backwards', 'none'] as const;
export type Joining = (typeof JOININGS)[number];

/** What is played alone before a section: the plucking hand on open strings, the shapes, the bass, the melody. */
export const ALONE_PARTS = ['open', 'shapes', 'bass', 'melody'] as const;
export type AlonePart = (typeof ALONE_PARTS)[number];

export interface LessonChoices {
  unit: LessonUnit;
  joining: Joining;
  alone: AlonePart[];
  /** The awkward changes as loops of two beats. */
  drills: boolean;
  /** Slowly all through before the whole tune. */
  slow: boolean;
  /** Ids of the sections that are taught; all when left out. */
  sections?: string[];
}

export const USUAL_CHOICES: LessonChoices = {
  unit: 'measure',
  joining: 'forwards',
  alone: [],
  drills: true,
  slow: false,
};

/** What a teacher changed of a step. */
export interface StepEdit {
  title?: string;
  advice?: string;
  /** Said beside it. */
  remark?: string;
  /** Tempo to begin it at, in per cent of the full one. */
  percent?: number;
  /** Left out of the lesson. */
  left?: boolean;
}

/** A step that the teacher has made: a passage, in words of their own. */
export interface OwnStep {
  id: string;
  title: string;
  advice: string;
  /** Ids of its first and last measure. */
  from: string;
  to: string;
  /** Id of the step that it comes after; the first of all when left out. */
  after?: string;
}

/** The lesson of an arrangement as its teacher wants it. */
export interface LessonOutline extends LessonChoices {
  /** Same id as its arrangement. */
  id: string;
  /** By the id of the step: they stay when measures come or go, and wait for a step that is gone for a while. */
  edits: Record<string, StepEdit>;
  /** Ids of the steps in the order in which they were put; steps that are not named follow the one they come after by themselves. */
  order?: string[];
  own?: OwnStep[];
  /** Ids of the arrangement's variants that are taught in the place of what stands there: easier measures, say. */
  inPlace?: string[];
  /** What the teacher calls strings, by their number: "the fat one". */
  strings?: Record<string, string>;
  /** How chords are called to the pupil: by the shape, as they sound, or both; both when left out. */
  names?: 'both' | 'shape' | 'sounding';
  /** How the pupil climbs the tempo ladder, where it is not as usual. */
  climb?: Partial<ClimbRule>;
  /** Minutes of one lesson; all in one where left out. */
  minutes?: number;
}

/**
 * An outline without a change.
 *
 * @example freshOutline('a').unit // 'measure'
 */
export function freshOutline(id: string): LessonOutline {
  return { id, ...USUAL_CHOICES, edits: {} };
}
