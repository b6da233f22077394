import { Button, Select, Text } from '@mantine/core';
import { useMemo } from 'react';
import { type Finding, placeName, type Remedy, remediesFor } from '#core/check';
import { noteAt, stringName } from '#core/instrument';
import { keyFifths, pitchName, prettyAccidentals, spellMidi } from '#core/pitch';
import {
  type Arrangement,
  gracesOf,
  noteRole,
  ORNAMENTS,
  type Ornament,
  ornamentOf,
  placeOptions,
  roleWords,
} from '#core/score';
import type { Tune } from '#core/tune';
import type { Cursor } from './Ribbon';

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
            {finding.severity === 'error' ? 'Can’t be played: ' : 'Note: '}
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

const ORNAMENT_WORDS: Record<Ornament, string> = {
  none: 'none',
  hammer: 'hammer-on from below',
  slide: 'slide from below',
  quick: 'quick change from below, both plucked',
  pull: 'pull-off from above',
  triplet: 'quick triplet',
  turn: 'turn: upper, note, lower, note',
  roll: 'roll: note, upper, note, lower, note',
};

/** The note at the cursor and every place where it could be played. */
export function NotePanel({
  arrangement,
  cursor,
  onMove,
  onPin,
  onOrnament,
}: {
  arrangement: Arrangement;
  cursor: Cursor;
  onMove: (string: number) => void;
  onPin: (pinned: boolean) => void;
  onOrnament: (ornament: Ornament) => void;
}) {
  const { setup } = arrangement;
  const measure = arrangement.measures[cursor.measure]!;
  const note = measure.notes.find(n => n.start === cursor.start && n.string === cursor.string);
  const options = useMemo(() => (note ? placeOptions(arrangement, note.id) : []), [arrangement, note]);
  if (!note) return <Text size="sm">No note on {stringName(setup, cursor.string)} here.</Text>;
  const carried = ornamentOf(arrangement, measure, note);
  const role = noteRole(arrangement, note.id);
  const name = pitchName(spellMidi(noteAt(setup, note.string, note.fret), keyFifths(measure.key)), true);
  const cheapest = Math.min(...options.filter(o => !o.fault).map(o => o.cost));
  return (
    <section aria-label="This note">
      <h2>
        This note: {name}, {note.voice}
      </h2>
      {role && (
        <Text size="sm" mb={6}>
          {prettyAccidentals(roleWords(role))}
        </Text>
      )}
      <Button size="compact-sm" variant="default" mb={6} onClick={() => onPin(!note.pinned)}>
        {note.pinned ? 'Pinned: let it go' : 'Pin it'}
      </Button>
      {note.voice === 'melody' && !note.tied && (
        <Select
          size="xs"
          mb={6}
          label="Ornament"
          data={[
            ...(carried === undefined ? [{ value: 'source', label: 'grace notes of the source' }] : []),
            ...ORNAMENTS.filter(o => gracesOf(arrangement, measure, note, o)).map(o => ({
              value: o,
              label: ORNAMENT_WORDS[o],
            })),
          ]}
          value={carried ?? 'source'}
          allowDeselect={false}
          onChange={v => v && v !== 'source' && onOrnament(v as Ornament)}
        />
      )}
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
