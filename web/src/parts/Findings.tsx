import { Button, Text } from '@mantine/core';
import { useMemo } from 'react';
import { type Finding, placeName, type Remedy, remediesFor } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import type { Cursor } from './Ribbon';

const SEVERITY_WORDS: Record<Finding['severity'], string> = {
  error: 'Can’t be played: ',
  warning: 'Note: ',
  advice: 'At this tempo: ',
};

/** What can't be played or is doubtful; a click leads there. */
export function Findings({
  arrangement,
  tune,
  findings,
  onGoTo,
  onRemedy,
}: {
  arrangement: Arrangement;
  tune: Tune | undefined;
  findings: Finding[];
  onGoTo: (cursor: Cursor) => void;
  onRemedy: (remedy: Remedy) => void;
}) {
  // Remedies are tried out one by one, so only those of the first few findings are looked for.
  const remedies = useMemo(
    () => findings.slice(0, 6).map(finding => remediesFor(arrangement, finding, tune)),
    [arrangement, findings, tune],
  );
  if (!findings.length) {
    return (
      <Text size="sm" c="var(--spruce)" mb={14}>
        <strong>Sits well:</strong> no findings.
      </Text>
    );
  }
  return (
    <section aria-label="Findings" style={{ marginBottom: 14 }}>
      <h2>
        {findings.length} finding{findings.length > 1 ? 's' : ''}
      </h2>
      {findings.slice(0, 40).map((finding, index) => (
        <div key={`${finding.measure}-${finding.start}-${finding.message}`} className="finding-with-remedies">
          <button
            type="button"
            className={`finding ${finding.severity}`}
            onClick={() => {
              const first = arrangement.measures[finding.measure]?.notes.find(n =>
                finding.notes.includes(n.id),
              );
              onGoTo({ measure: finding.measure, start: finding.start, string: first?.string ?? 1 });
            }}
          >
            <strong>{placeName(arrangement, finding.measure, finding.start)}.</strong>{' '}
            {SEVERITY_WORDS[finding.severity]}
            {finding.message}.
          </button>
          {remedies[index]?.map(remedy => (
            <Button key={remedy.label} size="compact-sm" variant="default" onClick={() => onRemedy(remedy)}>
              {remedy.label}
            </Button>
          ))}
        </div>
      ))}
    </section>
  );
}
