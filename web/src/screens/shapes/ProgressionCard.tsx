import clsx from 'clsx';
import type { ProgressionChord } from '#core/capo';
import { chordLabel } from '#core/chord';
import { changeWords, fingerLabel, guideFingers } from '#core/hand';
import type { Setup } from '#core/instrument';
import { shapeText } from '#core/shape';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import styles from './Shapes.module.css';

export function ProgressionCard({
  chord,
  before,
  measure,
  setup,
  selected,
  onSelect,
}: {
  chord: ProgressionChord;
  before: ProgressionChord | undefined;
  measure: number;
  setup: Setup;
  selected: boolean;
  onSelect: () => void;
}) {
  const { chosen } = chord;
  const guides = before?.chosen && chosen ? guideFingers(before.chosen.grip, chosen.grip) : [];
  return (
    <li>
      {before && (
        <div className={styles.moves}>
          <span aria-hidden="true">→</span>
          {before.chosen && chosen ? (
            <>
              <span>{changeWords(before.chosen.grip, chosen.grip)}</span>
              {guides.length > 0 && <small>guide: {guides.map(fingerLabel).join(', ')}</small>}
              <small>{chord.change.toFixed(1)}</small>
            </>
          ) : null}
        </div>
      )}
      <button
        type="button"
        className={clsx(styles.shapeCard, selected && styles.looked)}
        aria-pressed={selected}
        onClick={onSelect}
        aria-label={`${chordLabel(chord.shape)}, measure ${measure}${chosen ? `, ${shapeText(chosen.frets)}` : ', no shape'}${chord.byHand ? ', chosen by hand' : ''}`}
      >
        <span className={styles.where}>{measure === 0 ? 'pickup' : `measure ${measure}`}</span>
        <b>{chordLabel(chord.shape)}</b>
        {setup.capo > 0 && <small>sounds {chordLabel(chord.sounding)}</small>}
        {chosen ? (
          <ShapePicture setup={setup} frets={chosen.frets} grip={chosen.grip} />
        ) : (
          <span className={styles.noShape}>✕ no shape under these wishes</span>
        )}
        <small>{chord.byHand ? 'pinned' : chosen ? `effort ${chosen.cost.toFixed(1)}` : ''}</small>
      </button>
    </li>
  );
}
