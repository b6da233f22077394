import { Button, Loader, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { createContext, memo, useContext, useState } from 'react';
import { type Finding, placeName } from '#core/check';
import type { Edit } from '#core/edit';
import { type Arrangement, measureIndex } from '#core/score';
import { markOf } from '../../../data/mark';
import { checker } from '../../../engine/workers';
import type { Cursor } from '../../../parts/ribbon/RibbonRow';
import styles from './Findings.module.css';

const SEVERITY_WORDS: Record<Finding['severity'], string> = {
  error: 'Can’t be played: ',
  warning: 'Note: ',
  advice: 'At this tempo: ',
};
/** Findings that are listed, and those whose ways out are looked for without being asked. */
const LISTED = 40;
const AT_ONCE = 3;

/** What can't be played or is doubtful; a click leads there. */
export const Findings = memo(function Findings({
  found,
  fault,
  onGoTo,
  onEdit,
}: {
  /** Why nothing can be looked for. */
  fault: string | undefined;
  /** Undefined until they were looked for; the arrangement is the one that they are about. */
  found: { of: Arrangement; findings: readonly Finding[] } | undefined;
  onGoTo: (cursor: Cursor) => void;
  onEdit: (edit: Edit) => void;
}) {
  const { of: arrangement, findings } = found ?? {};
  if (fault)
    return (
      <section aria-label="Findings">
        <Text size="sm" mb={14} role="alert" c="var(--cranberry)">
          What can’t be played is not looked for: {fault}.
        </Text>
      </section>
    );
  if (!arrangement || !findings?.length) {
    return (
      <section aria-label="Findings">
        <Text size="sm" mb={14} c={findings && 'var(--spruce)'}>
          {findings ? (
            <>
              <strong>Sits well:</strong> no findings.
            </>
          ) : (
            'Looking for what can’t be played …'
          )}
        </Text>
      </section>
    );
  }
  return (
    <section aria-label="Findings" style={{ marginBottom: 14 }}>
      <h2>
        {findings.length} finding{findings.length > 1 ? 's' : ''}
      </h2>
      <State.Provider value={findings}>
        {findings.slice(0, LISTED).map((finding, index) => (
          <FindingRow
            key={`${finding.measure}-${finding.start}-${finding.message}`}
            finding={finding}
            place={placeName(arrangement, measureIndex(arrangement, finding.measure), finding.start)}
            string={stringOf(arrangement, finding)}
            atOnce={index < AT_ONCE}
            onGoTo={onGoTo}
            onEdit={onEdit}
          />
        ))}
      </State.Provider>
      {findings.length > LISTED && <Text size="sm">and {findings.length - LISTED} more</Text>}
    </section>
  );
});

/** What was found together: ways out are those of this state. */
const State = createContext<readonly Finding[]>([]);

/** The string on which one stands to look at a finding: that of its first note. */
function stringOf({ measures }: Arrangement, finding: Finding): number {
  const notes = measures.find(measure => measure.id === finding.measure)?.notes;
  return notes?.find(note => finding.notes.includes(note.id))?.string ?? 1;
}

/** One finding, and its ways out: at once, or when they are asked for. */
const FindingRow = memo(function FindingRow({
  finding,
  place,
  string,
  atOnce,
  onGoTo,
  onEdit,
}: {
  finding: Finding;
  place: string;
  string: number;
  atOnce: boolean;
  onGoTo: (cursor: Cursor) => void;
  onEdit: (edit: Edit) => void;
}) {
  const [asked, setAsked] = useState(false);
  return (
    <div className={styles.findingWithRemedies}>
      <button
        type="button"
        className={styles.finding}
        data-severity={finding.severity}
        onClick={() => onGoTo({ measure: finding.measure, start: finding.start, string })}
      >
        <strong>{place}.</strong> {SEVERITY_WORDS[finding.severity]}
        {finding.message}.
      </button>
      {atOnce || asked ? (
        <Remedies finding={finding} asked={asked} onEdit={onEdit} />
      ) : (
        <Button size="compact-sm" variant="subtle" onClick={() => setAsked(true)}>
          Look for a way out
        </Button>
      )}
    </div>
  );
});

/** Ways out of a finding; each was tried out beside the screen, so they come a moment later. */
function Remedies({
  finding,
  asked,
  onEdit,
}: {
  finding: Finding;
  asked: boolean;
  onEdit: (edit: Edit) => void;
}) {
  const remedies = useQuery({
    queryKey: ['remedies', markOf(useContext(State)), finding.measure, finding.start, finding.message],
    queryFn: () => checker().remedies(finding),
    gcTime: 0,
  });
  if (remedies.isError)
    return (
      <Button size="compact-sm" variant="subtle" onClick={() => void remedies.refetch()}>
        Look again for a way out
      </Button>
    );
  if (!remedies.data) return <Loader size="xs" aria-label="Looking for ways out" />;
  if (!remedies.data.length && asked) return <Text size="sm">No single change takes it away.</Text>;
  return remedies.data.map(remedy => (
    <Button key={remedy.label} size="compact-sm" variant="default" onClick={() => onEdit(remedy.edit)}>
      {remedy.label}
    </Button>
  ));
}
