import { Alert, Button, Group, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { standardSetup } from '#core/instrument';
import { keyFifths, keyName, midiOf, pitchName, spellMidi } from '#core/pitch';
import { playingOrder } from '#core/timeline';
import {
  chordSpans,
  hasMelody,
  melodyRange,
  secondVoice,
  type Tune,
  transposeTune,
  type VoicePlace,
  voiceNames,
  withSecondVoice,
} from '#core/tune';
import type { Copy } from '../../data/copies';
import { useArrangements } from '../../data/queries';
import { usePlayback } from '../../engine/player';
import { arranger } from '../../engine/workers';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { showsVoices } from '../../parts/furtherVoices';
import { TuneGate } from '../../parts/Gates';
import { Masthead } from '../../parts/Masthead';
import { WordSheet } from '../../parts/paper/WordSheet';
import { Stave } from '../../parts/ribbon/Stave';
import common from '../../theme/common.module.css';
import { ArrangeIt } from './ArrangeIt';
import { ArrangementList } from './ArrangementList';
import { HarmonyPanel } from './HarmonyPanel';
import { TuneFacts } from './TuneFacts';
import styles from './TuneScreen.module.css';
import { useArranging } from './useArranging';

/** The tune itself: stave, form, chords, words; heard; and the way to an arrangement. */
export function TuneScreen() {
  return <TuneGate>{(tune, copy) => <TunePage key={tune.id} tune={tune} copy={copy} />}</TuneGate>;
}

/** What is shown and heard with the melody: nothing, voices that the source has, one that is made. */
type Beside = VoicePlace | 'source' | '';

const SECOND_VOICES: { value: Beside; label: string }[] = [
  { value: '', label: 'one voice' },
  { value: 'below', label: 'a second voice below' },
  { value: 'above', label: 'a second voice above' },
];

/** The further voices of the source as a choice, where it has some. */
function sourceVoices(further: number): typeof SECOND_VOICES {
  if (!further) return [];
  return [
    {
      value: 'source',
      label: further === 1 ? 'both voices of the source' : `all ${further + 1} voices of the source`,
    },
  ];
}

function TunePage({ tune, copy }: { tune: Tune; copy: Copy<'tunes'> }) {
  const arrangements = useArrangements(tune.id);
  const { state: playing, toggle: playOrStop } = usePlayback();
  const sings = hasMelody(tune);
  const arranging = useArranging(tune);
  const onSheet = tune.song !== undefined && !sings;
  const [drawn, setDrawn] = useState(onSheet);
  const onDrawn = useCallback(() => setDrawn(true), []);
  const range = melodyRange(tune);
  const further = voiceNames(tune).length;
  const [beside, setBeside] = useState<Beside>(showsVoices(tune) ? 'source' : '');
  const second = beside === 'source' ? '' : beside;
  const voices = beside === 'source';
  const shownTune = useMemo(() => (second ? withSecondVoice(tune, second) : tune), [tune, second]);
  const secondRange = useMemo(() => {
    const midis = second ? [...secondVoice(tune, second).values()].map(midiOf) : [];
    return midis.length ? { low: Math.min(...midis), high: Math.max(...midis) } : undefined;
  }, [tune, second]);
  const fifths = keyFifths(tune.key);
  const name = (midi: number) => pitchName(spellMidi(midi, fifths), true);

  /** The melody; a song as it would be accompanied. */
  const hear = useMutation({
    mutationFn: async () => {
      if (sings || playing.status !== 'stopped') {
        playOrStop(
          { what: 'melody', tune: shownTune, setup: standardSetup('guitar'), percent: 100, voices },
          false,
        );
        return;
      }
      const { arrangement, problem: fault } = await arranger().arrange(tune, arranging.asked());
      if (fault) {
        arranging.setProblem(fault);
        return;
      }
      const order = playingOrder(arrangement);
      playOrStop(
        { what: 'arrangement', arrangement, order, percent: 100, click: false, countIn: true },
        false,
      );
    },
  });

  const noSound = playing.error ?? hear.error?.message;

  return (
    <div className={common.frame}>
      <Masthead
        title={tune.title}
        under={[tune.rhythm, keyName(tune.key), tune.source ?? tune.composer].filter(Boolean).join(' · ')}
        rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      />
      <main className={common.page}>
        <TuneFacts tune={tune} onTune={copy.replace}>
          <BusyButton
            variant="default"
            busy={playing.status === 'preparing' || hear.isPending}
            disabled={!sings && !chordSpans(tune).length}
            onClick={() => hear.mutate()}
          >
            {playing.status === 'playing' ? 'Stop' : 'Hear it'}
          </BusyButton>
          <Button variant="default" component={Link} to={`/tune/${tune.id}/source`}>
            Edit the source
          </Button>
          {chordSpans(tune).length > 0 && (
            <Button variant="default" component={Link} to={`/tune/${tune.id}/words`}>
              Words and chords
            </Button>
          )}
        </TuneFacts>
        {noSound && (
          <Alert color="cranberry" mb="md">
            No sound: {noSound}
          </Alert>
        )}
        {onSheet ? (
          <section className={styles.songWords} aria-label="Words and chords">
            <WordSheet
              tune={transposeTune(tune, arranging.plan?.transposition ?? 0)}
              capo={arranging.plan?.setup.capo ?? 0}
              names="both"
            />
          </section>
        ) : (
          <Stave tune={shownTune} voices={voices} onDrawn={onDrawn} />
        )}
        {tune.verses && (
          <details>
            <summary>Further words</summary>
            <p style={{ whiteSpace: 'pre-line' }}>{tune.verses.join('\n')}</p>
          </details>
        )}
        {range && (
          <Group mt={6} gap="md">
            <Text size="sm" c="dimmed">
              The melody goes from {name(range.low)} to {name(range.high)}.
            </Text>
            <Choice
              aria-label="A second voice"
              options={[...sourceVoices(further), ...SECOND_VOICES]}
              value={beside}
              onChange={setBeside}
            />
            {second && secondRange && (
              <Text size="sm" c="dimmed">
                The second voice goes from {name(secondRange.low)} to {name(secondRange.high)}; it can be put
                into an arrangement under Parts.
              </Text>
            )}
          </Group>
        )}
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fit, minmax(300px, 1fr))',
            gap: 32,
            marginTop: 24,
            // What is pressed here must not move away under the pointer when the stave above gets its height.
            visibility: drawn ? undefined : 'hidden',
          }}
        >
          <ArrangeIt tune={tune} arranging={arranging} />
          <HarmonyPanel tune={tune} onTune={copy.replace} />
          <section className={common.panel}>
            <h2>Arrangements of this tune</h2>
            {!arrangements.data?.length && <Text c="dimmed">None yet.</Text>}
            <ArrangementList entries={arrangements.data ?? []} />
            <Text size="sm" c="dimmed">
              Stretches, barres and repetition strain hands: warm up, rest, and stop at pain or numbness; if
              it stays, see a doctor or physiotherapist.
            </Text>
          </section>
        </div>
      </main>
    </div>
  );
}
