import { Text } from '@mantine/core';
import { useMemo } from 'react';
import { type Finding, placeName } from '#core/check';
import { noteAt, stringName } from '#core/instrument';
import { keyFifths, pitchName, spellMidi } from '#core/pitch';
import { type Arrangement, placeOptions } from '#core/score';
import type { Cursor } from './Ribbon';

/** What can't be played or is doubtful; a click leads there. */
export function Findings({
  arrangement,
  findings,
  onGoTo,
}: {
  arrangement: Arrangement;
  findings: Finding[];
  onGoTo: (cursor: Cursor) => void;
}) {
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
      {findings.slice(0, 40).map(finding => (
        <button
          type="button"
          key={`${finding.measure}-${finding.start}-${finding.message}`}
          className={`finding ${finding.severity}`}
          onClick={() => {
            const first = arrangement.measures[finding.measure]?.notes.find(n =>
              finding.notes.includes(n.id),
            );
            onGoTo({ measure: finding.measure, start: finding.start, string: first?.string ?? 1 });
          }}
        >
          <strong>{placeName(arrangement, finding.measure, finding.start)}.</strong>{' '}
          {finding.severity === 'error' ? 'Can’t be played: ' : 'Note: '}
          {finding.message}.
        </button>
      ))}
    </section>
  );
}

/** The note at the cursor and every place where it could be played. */
export function NotePanel({
  arrangement,
  cursor,
  onMove,
}: {
  arrangement: Arrangement;
  cursor: Cursor;
  onMove: (string: number) => void;
}) {
  const { setup } = arrangement;
  const measure = arrangement.measures[cursor.measure]!;
  const note = measure.notes.find(n => n.start === cursor.start && n.string === cursor.string);
  const options = useMemo(() => (note ? placeOptions(arrangement, note.id) : []), [arrangement, note]);
  if (!note) return <Text size="sm">No note on {stringName(setup, cursor.string)} here.</Text>;
  const name = pitchName(spellMidi(noteAt(setup, note.string, note.fret), keyFifths(measure.key)), true);
  const cheapest = Math.min(...options.filter(o => !o.fault).map(o => o.cost));
  return (
    <section aria-label="This note">
      <h2>
        This note: {name}, {note.voice}
      </h2>
      <table className="options">
        <tbody>
          {options.map(option => (
            <tr key={option.string} className={option.here ? 'here' : ''}>
              <td>
                {option.here || option.taken ? (
                  <strong>{stringName(setup, option.string)}</strong>
                ) : (
                  <button type="button" onClick={() => onMove(option.string)}>
                    {stringName(setup, option.string)}
                  </button>
                )}
                <br />
                {option.fret
                  ? `fret ${option.fret}${option.finger ? `, finger ${option.finger}` : ''}`
                  : 'open'}
              </td>
              <td style={{ color: option.fault ? 'var(--cranberry)' : undefined }}>
                {option.fault ?? (option.fret === 0 ? 'rings by itself' : '')}
              </td>
              <td>
                {option.fault
                  ? ''
                  : option.here
                    ? 'here'
                    : option.cost === cheapest
                      ? 'easiest'
                      : `+${(option.cost - cheapest).toFixed(1)}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
