import { Alert, Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { useMemo } from 'react';
import { chordLabel } from '#core/chord';
import { RIGHTS_TEXT } from '#core/formats/rights';
import { writeChordPro, writeSongText } from '#core/formats/song';
import { shapeText } from '#core/shape';
import { beatsPerMinute, meterName } from '#core/time';
import { type Tune, transposeTune } from '#core/tune';
import { useArrangements } from '../../data/queries';
import { fileName, saveFile } from '../../engine/files';
import type { Planned } from '../../engine/useTunePlan';
import { PlannedTuneGate } from '../../parts/Gates';
import { unusualSetup } from '../../parts/instruments';
import { PaperScreen } from '../../parts/paper/PaperScreen';
import { LeftHandedPictures, NamesOnPaper, PaperSwitch } from '../../parts/paper/PaperTools';
import { CAUTION, capoFact } from '../../parts/paper/paper';
import { useSheet } from '../../parts/paper/useSheet';
import { WordSheet } from '../../parts/paper/WordSheet';
import type { ChordNames } from '../../parts/ribbon/measureLayout';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import { StrumArrows } from '../../parts/shape/StrumArrows';
import { useProgression } from '../shapes/useProgression';
import styles from './Handout.module.css';

export function WordsPaperScreen() {
  return <PlannedTuneGate>{(tune, planned) => <WordsPaper tune={tune} planned={planned} />}</PlannedTuneGate>;
}

/** The paper of a piece for which nothing was chosen yet. */
const USUAL_SHEET: { large: boolean; pictures: boolean } = { large: false, pictures: true };

/** Letters of large print beside those of the usual size. */
const LARGE = 1.4;

/** Words and chords on paper, with the strum and the shapes; as text and ChordPro to send. */
function WordsPaper({ tune, planned: { plan } }: { tune: Tune; planned: Planned }) {
  const arrangements = useArrangements(tune.id);
  const found = useProgression(tune, plan);
  const [names, setNames] = useLocalStorage<ChordNames>({ key: 'chord-names', defaultValue: 'both' });
  const [{ large, pictures }, choose] = useSheet(tune.id, USUAL_SHEET);
  const sounding = useMemo(() => transposeTune(tune, plan.transposition), [tune, plan.transposition]);
  const { setup, pattern } = plan;
  const { capo } = setup;
  const grips = useMemo(() => {
    const all = found.data?.chords.filter(({ chosen }) => chosen) ?? [];
    return [
      ...new Map(all.map(chord => [`${chord.shape} ${shapeText(chord.chosen!.frets)}`, chord])).values(),
    ];
  }, [found.data]);
  const held = {
    setup,
    capo,
    ...(pattern && { strum: pattern }),
    ...(plan.sectionPatterns && { strums: plan.sectionPatterns }),
  };
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(writeSongText(sounding, held));
      notifications.show({ message: 'The text is copied: paste it into a message.' });
    } catch {
      notifications.show({
        color: 'cranberry',
        message: 'The browser did not let it be copied: save it as a file.',
      });
    }
  };
  return (
    <PaperScreen
      title={tune.title}
      under="Words and chords"
      rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      tools={
        <>
          <NamesOnPaper value={names} onChange={setNames} />
          <PaperSwitch label="Shapes" value={pictures} onChange={value => choose('pictures', value)} />
          <PaperSwitch label="Large print" value={large} onChange={value => choose('large', value)} />
          <LeftHandedPictures />
        </>
      }
      files={
        <>
          <Button variant="default" onClick={() => void copy()}>
            Copy as text
          </Button>
          <Button
            variant="default"
            onClick={() => saveFile(fileName(tune.title, 'txt'), writeSongText(sounding, held), 'text/plain')}
          >
            Text file
          </Button>
          <Button
            variant="default"
            onClick={() => saveFile(fileName(tune.title, 'cho'), writeChordPro(sounding, held), 'text/plain')}
          >
            ChordPro file
          </Button>
        </>
      }
      facts={[
        ...(tune.composer ? [tune.composer] : []),
        ...unusualSetup(setup),
        capoFact(setup, sounding.key),
        `${meterName(tune.meter)}, ${Math.round(beatsPerMinute(tune.meter, tune.quartersPerMinute))} beats a minute`,
      ]}
      size={large ? LARGE : 1}
    >
      {pattern && <StrumArrows pattern={pattern} meter={tune.meter} strings={setup.tuning.length} />}
      {pictures && found.error && (
        <Alert color="cranberry">The shapes are missing: {found.error.message}</Alert>
      )}
      {pictures && grips.length > 0 && (
        <div className={styles.grips} style={{ marginTop: 8 }}>
          {grips.map(chord => (
            <figure key={`${chord.shape} ${shapeText(chord.chosen!.frets)}`}>
              <ShapePicture
                setup={setup}
                frets={chord.chosen!.frets}
                grip={chord.chosen!.grip}
                scale={large ? 1 : 0.7}
              />
              <figcaption>{chordLabel(names === 'sounding' ? chord.sounding : chord.shape)}</figcaption>
              {names === 'both' && capo > 0 && <small>sounds {chordLabel(chord.sounding)}</small>}
            </figure>
          ))}
        </div>
      )}
      <WordSheet
        tune={sounding}
        capo={capo}
        names={names}
        strums={plan.sectionPatterns}
        strings={setup.tuning.length}
        heading="h2"
      />
      <footer>
        {RIGHTS_TEXT[tune.rights]}. {capo > 0 && names !== 'sounding' && 'Names are those of the shapes. '}
        {pattern && '↓ down, ↑ up, B the bass string, ✕ damped, ↧ stopped at once. '}
        {CAUTION}
      </footer>
    </PaperScreen>
  );
}
