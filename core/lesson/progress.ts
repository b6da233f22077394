/** How far a lesson has come: what is kept of it. */
export interface LessonProgress {
  /** Same id as its arrangement. */
  id: string;
  /** Ids of the steps that were ticked off. */
  done: string[];
  /** Step that was open last. */
  current?: string;
  /** Tempo last used, in per cent of the tune's. */
  percent?: number;
}
