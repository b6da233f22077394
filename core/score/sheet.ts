/** How the papers of a piece are printed: what is kept of it. */
export interface SheetChoices {
  /** That of the tune or the arrangement whose papers they are. */
  id: string;
  /** What was chosen, by its name; what is not named is as usual. */
  choices: Record<string, string | boolean>;
}
