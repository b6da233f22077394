import type { Edit } from '#core/edit';
import { type Arrangement, remarksOf, type ScoreNote } from '#core/score';
import { Field } from '../../../parts/Field';
import { Fold } from '../../../parts/Fold';

interface RemarksPanelProps {
  arrangement: Arrangement;
  /** Place of the measure. */
  at: number;
  note: ScoreNote | undefined;
  onEdit: (edit: Edit) => void;
}

/** What the teacher wants to be remembered here: of the note, the measure, the piece. */
export function RemarksPanel(props: RemarksPanelProps) {
  return (
    <Fold name="remarks" words="Remarks for the pupil">
      {() => <Remarks {...props} />}
    </Fold>
  );
}

function Remarks({ arrangement, at, note, onEdit }: RemarksPanelProps) {
  const measure = arrangement.measures[at]!;
  const remarks = remarksOf(measure, at);
  const ofNote = note && remarks.find(remark => remark.at?.id === note.id)?.text;
  const ofMeasure = remarks.find(remark => remark.note === undefined)?.text ?? '';
  const remark = (text: string, on?: string) =>
    onEdit({ kind: 'remark', ids: [measure.id], values: { text, ...(on && { note: on }) } });
  return (
    <>
      {note && (
        <Field
          key={`${note.id} ${ofNote ?? ''}`}
          label="On this note"
          value={ofNote ?? ''}
          onTake={text => remark(text, note.id)}
        />
      )}
      <Field
        key={`${measure.id} ${ofMeasure}`}
        label="On this measure"
        value={ofMeasure}
        onTake={text => remark(text)}
      />
      <Field
        key={arrangement.remark ?? ''}
        label="On the piece"
        value={arrangement.remark ?? ''}
        onTake={text => onEdit({ kind: 'remark', ids: [], values: { text } })}
      />
    </>
  );
}
