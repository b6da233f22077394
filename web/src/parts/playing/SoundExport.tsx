import { Group, Modal, Switch, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { type LessonStep, practised } from '#core/lesson';
import type { Arrangement } from '#core/score';
import type { Mix } from '#core/sound';
import { beatsPerMinute } from '#core/time';
import { asPlayed, playingOrder } from '#core/timeline';
import { fileName, saveFile } from '../../engine/files';
import { soundMaker } from '../../engine/workers';
import { BusyButton } from '../BusyButton';
import { Choice } from '../Choice';

const PERCENTS = [40, 50, 60, 70, 80, 90, 100, 110, 120];

/** Which parts a file holds. */
const PARTS = {
  all: { label: 'all parts', mix: { melody: 1, bass: 1, inner: 1 } },
  melody: { label: 'the melody alone', mix: { melody: 1, bass: 0, inner: 0 } },
  rest: { label: 'all but the melody', mix: { melody: 0, bass: 1, inner: 1 } },
  bass: { label: 'the bass alone', mix: { melody: 0, bass: 1, inner: 0 } },
} satisfies Record<string, { label: string; mix: Mix }>;

function wholeOf(arrangement: Arrangement) {
  const heard = asPlayed(arrangement).arrangement;
  return { arrangement: heard, order: playingOrder(heard) };
}

interface SoundExportProps {
  arrangement: Arrangement;
  /** Of a lesson, where only that is to be heard. */
  step?: LessonStep;
  /** Tempo that is offered first, in per cent. */
  begin?: number;
  onClose: () => void;
}

/** An arrangement, or a step of its lesson, as a sound file to practise with, at a tempo. */
export function SoundExport({ arrangement, step, begin = 100, onClose }: SoundExportProps) {
  const [percent, setPercent] = useState(() => PERCENTS.findLast(own => own <= begin) ?? PERCENTS[0]!);
  const [parts, setParts] = useState<keyof typeof PARTS>('all');
  const [countIn, setCountIn] = useState(true);
  const [click, setClick] = useState(false);
  const [spoken, setSpoken] = useState(false);
  const tempo = beatsPerMinute(arrangement.measures[0]!.meter, arrangement.quartersPerMinute);
  const save = useMutation({
    mutationFn: async () => {
      const heard = step ? practised(arrangement, step) : wholeOf(arrangement);
      const bytes = await soundMaker().file({
        what: 'arrangement',
        arrangement: heard.arrangement,
        order: heard.order,
        percent,
        click,
        countIn,
        spoken,
        mix: PARTS[parts].mix,
      });
      const name = [arrangement.title, step?.title, percent !== 100 && `${percent} percent`];
      saveFile(fileName(name.filter(Boolean).join(' '), 'wav'), bytes, 'audio/wav');
    },
    onSuccess: onClose,
  });
  return (
    <Modal opened onClose={onClose} title="Sound file (WAV)">
      <Choice
        label="Tempo"
        options={PERCENTS.map(value => ({
          value,
          label: `${value} %, ${Math.round((tempo * value) / 100)} beats a minute`,
        }))}
        value={percent}
        onChange={setPercent}
      />
      <Choice
        label="What is heard"
        options={(Object.keys(PARTS) as (keyof typeof PARTS)[]).map(value => ({
          value,
          label: PARTS[value].label,
        }))}
        value={parts}
        onChange={setParts}
      />
      <Group my={14} gap={24}>
        <Switch label="Count in" checked={countIn} onChange={e => setCountIn(e.currentTarget.checked)} />
        <Switch label="Click" checked={click} onChange={e => setClick(e.currentTarget.checked)} />
        <Switch label="Spoken" checked={spoken} onChange={e => setSpoken(e.currentTarget.checked)} />
      </Group>
      {save.error && (
        <Text size="sm" c="var(--cranberry)" mb={8}>
          The sound could not be made: {save.error.message}
        </Text>
      )}
      <BusyButton color="marigold.6" busy={save.isPending} onClick={() => save.mutate()}>
        Save the sound
      </BusyButton>
    </Modal>
  );
}
