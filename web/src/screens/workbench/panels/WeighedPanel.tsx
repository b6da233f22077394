import { Button, Text } from '@mantine/core';
import type { Edit } from '#core/edit';
import { type Arrangement, weighedIn } from '#core/score';
import { beatName } from '#core/time';
import { capital } from '#core/words';
import { Fold } from '../../../parts/Fold';
import common from '../../../theme/common.module.css';

/** Choices that are told of a measure. */
const TOLD = 6;

interface WeighedPanelProps {
  arrangement: Arrangement;
  /** Place of the measure. */
  at: number;
  onEdit: (edit: Edit, string?: number) => void;
}

/** What the arranger weighed in a measure, the closest choices first, each to be taken instead. */
export function WeighedPanel(props: WeighedPanelProps) {
  return (
    <Fold name="weighed" words="What was weighed in this measure">
      {() => <Weighed {...props} />}
    </Fold>
  );
}

function Weighed({ arrangement, at, onEdit }: WeighedPanelProps) {
  const measure = arrangement.measures[at]!;
  const all = weighedIn(measure);
  if (!all.length) return <Text size="sm">Nothing: it was written by hand, or there was but one way.</Text>;
  return (
    <>
      <Text size="sm">The closest choices first; numbers are efforts, the same as on the note.</Text>
      <ul className={common.kept}>
        {all.slice(0, TOLD).map(({ note, other, more, parts }) => (
          <li key={note.id}>
            <div>
              <strong>
                {capital(beatName(measure.meter, note.start + measure.offset))},{' '}
                {note.role === 'melody' ? 'melody' : 'accompaniment'}
              </strong>
              <div className={common.about}>
                string {note.string} {note.fret ? `at fret ${note.fret}` : 'open'}; next best {other},{' '}
                {more.toFixed(1)} more: {parts}
              </div>
            </div>
            <div>
              <Button
                size="compact-sm"
                variant="default"
                onClick={() => onEdit({ kind: 'next-best', ids: [note.id], values: {} })}
              >
                Take that instead
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}
