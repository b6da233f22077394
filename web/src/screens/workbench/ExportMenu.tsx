import { Button, Menu } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload } from '@tabler/icons-react';
import { useState } from 'react';
import { placeName } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { readSnapshots } from '../../data/store';
import { fileName, saveFile } from '../../engine/files';
import { SoundExport } from '../../parts/playing/SoundExport';

type FileKind = 'musicxml' | 'mid' | 'tab' | 'json';
const KINDS: Record<FileKind, { name: string; type: string }> = {
  musicxml: { name: 'MusicXML (notation and tab)', type: 'application/vnd.recordare.musicxml+xml' },
  mid: { name: 'MIDI', type: 'audio/midi' },
  tab: { name: 'Text tab', type: 'text/plain' },
  json: { name: 'Bundle (tune, arrangement, versions)', type: 'application/json' },
};

/** Something that a file tells only in part. */
interface Remark {
  measure: number;
  reason: string;
}

async function written(
  kind: FileKind,
  arrangement: Arrangement,
  tune: Tune | undefined,
): Promise<{ content: string | Uint8Array; remarks: Remark[] }> {
  const remarks: Remark[] = [];
  if (kind === 'json') {
    const { emptyBundle, writeBundle } = await import('#core/formats/bundle');
    const tunes = tune ? [tune] : [];
    // Where storage fails what is on the screen can be saved all the same.
    const snapshots = await readSnapshots(arrangement.id).catch((cause: Error) => {
      remarks.push({ measure: 0, reason: `its versions are left out: ${cause.message}` });
      return [];
    });
    return {
      content: writeBundle({ ...emptyBundle(), tunes, arrangements: [arrangement], snapshots }),
      remarks,
    };
  }
  const { writeMidi, writeMusicXml, writeTab } = await import('../../engine/exports');
  if (kind === 'tab') {
    const { text, leftOut } = writeTab(arrangement);
    return { content: text, remarks: leftOut };
  }
  if (kind === 'mid') return { content: writeMidi(arrangement), remarks };
  return {
    content: writeMusicXml(arrangement, (measure, reason) => remarks.push({ measure, reason })),
    remarks,
  };
}

/** Remarks shown at once. */
const SHOWN = 5;

/**
 * An arrangement as a file. What can't be written, or only in part, is said with its measure and reason.
 *
 * @param newest gives the arrangement as it is when it is asked for: the menu is not drawn again with every key
 */
export function ExportMenu({ newest, tune }: { newest: () => Arrangement; tune: Tune | undefined }) {
  const [sound, setSound] = useState<Arrangement>();
  const save = async (kind: FileKind) => {
    const arrangement = newest();
    try {
      const { content, remarks } = await written(kind, arrangement, tune);
      saveFile(fileName(arrangement.title, kind), content, KINDS[kind].type);
      if (!remarks.length) return;
      const told = remarks
        .slice(0, SHOWN)
        .map(({ measure, reason }) => `${placeName(arrangement, measure, 0)}: ${reason}`);
      if (remarks.length > SHOWN) told.push(`and ${remarks.length - SHOWN} more`);
      notifications.show({
        title: 'The file is written, but for this',
        message: told.join('. '),
        autoClose: false,
      });
    } catch (cause) {
      notifications.show({
        title: `The ${kind === 'json' ? 'bundle' : KINDS[kind].name} could not be written`,
        message: cause instanceof Error ? cause.message : String(cause),
        color: 'cranberry',
        autoClose: false,
      });
    }
  };
  return (
    <>
      {sound && <SoundExport arrangement={sound} onClose={() => setSound(undefined)} />}
      <Menu position="bottom-end">
        <Menu.Target>
          <Button variant="transparent" c="var(--on-velvet)" leftSection={<IconDownload size={18} />} px={6}>
            Export
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {(Object.keys(KINDS) as FileKind[]).map(kind => (
            <Menu.Item key={kind} onClick={() => void save(kind)}>
              {KINDS[kind].name}
            </Menu.Item>
          ))}
          <Menu.Item onClick={() => setSound(newest())}>Sound (WAV) …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </>
  );
}
