import { Button, Loader, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { memo } from 'react';
import { type Finding, placeName, type Remedy } from '#core/check';
import type { Edit } from '#core/edit';
import { type Arrangement, measureIndex } from '#core/score';
import { markOf } from '../data/mark';
import { checker } from '../engine/workers';
import type { Cursor } from './Ribbon';
import './Findings.css';

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
  onGoTo,
  onEdit,
}: {
  /** Undefined until they were looked for; the arrangement is the one that they are about. */
  found: { of: Arrangement; findings: readonly Finding[] } | undefined;
  onGoTo: (cursor: Cursor) => void;
  onEdit: (edit: Edit) => void;
}) {
  const { of: arrangement, findings } = found ?? {};
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
      {findings.slice(0, LISTED).map((finding, index) => {
        const measure = measureIndex(arrangement, finding.measure);
        return (
          <div
            key={`${finding.measure}-${finding.start}-${finding.message}`}
            className="finding-with-remedies"
          >
            <button
              type="button"
              className={`finding ${finding.severity}`}
              onClick={() => {
                const first = arrangement.measures[measure]!.notes.find(n => finding.notes.includes(n.id));
                onGoTo({ measure: finding.measure, start: finding.start, string: first?.string ?? 1 });
              }}
            >
              <strong>{placeName(arrangement, measure, finding.start)}.</strong>{' '}
              {SEVERITY_WORDS[finding.severity]}
              {finding.message}.
            </button>
            <Remedies
              finding={finding}
              findings={findings}
              atOnce={index < AT_ONCE}
              onRemedy={remedy => onEdit(remedy.edit)}
            />
          </div>
        );
      })}
      {findings.length > LISTED && <Text size="sm">and {findings.length - LISTED} more</Text>}
    </section>
  );
});

/** Ways out of a finding; each was tried out beside the screen, so they come a moment later. */
function Remedies({
  finding,
  findings,
  atOnce,
  onRemedy,
}: {
  finding: Finding;
  findings: readonly Finding[];
  atOnce: boolean;
  onRemedy: (remedy: Remedy) => void;
}) {
  const remedies = useQuery({
    queryKey: ['remedies', markOf(findings), finding.measure, finding.start, finding.message],
    queryFn: () => checker().remedies(finding),
    enabled: atOnce,
    gcTime: 0,
  });
  if (remedies.isFetching) return <Loader size="xs" aria-label="Looking for ways out" />;
  if (!remedies.data)
    return (
      <Button size="compact-sm" variant="subtle" onClick={() => void remedies.refetch()}>
        Look for a way out
      </Button>
    );
  if (!remedies.data.length && !atOnce) return <Text size="sm">No single change takes it away.</Text>;
  return remedies.data.map(remedy => (
    <Button key={remedy.label} size="compact-sm" variant="default" onClick={() => onRemedy(remedy)}>
      {remedy.label}
    </Button>
  ));
}
