/** Names of what comes again in its own words, in the languages of sheets that are handed on (common practice); without groups. */
export const CHORUS_NAMES = 'chorus|refrain|kehrreim|ritornello|estribillo';

/** Names that parts of a piece have in texts (common practice), for patterns that find them; without groups. */
export const PART_NAMES = `intro(?:duction)?|verse|vers|strophe|strofa|estrofa|couplet|${CHORUS_NAMES}|pre[- ]?chorus|bridge|middle(?: eight)?|solo|interlude|instrumental|break|riff|outro|coda|ending|tag|turnaround`;
