/** Names that parts of a piece have in texts (common practice), for patterns that find them; without groups. */
export const PART_NAMES =
  'intro(?:duction)?|verse|chorus|refrain|pre[- ]?chorus|bridge|middle(?: eight)?|solo|interlude|instrumental|break|riff|outro|coda|ending|tag|turnaround';
