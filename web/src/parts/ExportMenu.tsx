import { Button, Menu } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { fileName, saveFile } from '../engine/files';

/** An arrangement as a file. */
export function ExportMenu({ arrangement, tune }: { arrangement: Arrangement; tune: Tune | undefined }) {
  const save = async (kind: 'musicxml' | 'mid' | 'json') => {
    if (kind === 'json') {
      const { writeBundle } = await import('#core/formats/bundle');
      saveFile(
        fileName(arrangement.title, 'json'),
        writeBundle({ tunes: tune ? [tune] : [], arrangements: [arrangement], lessons: [], plans: [] }),
        'application/json',
      );
      return;
    }
    if (kind === 'mid') {
      const { writeMidi } = await import('../engine/exports');
      saveFile(fileName(arrangement.title, 'mid'), writeMidi(arrangement), 'audio/midi');
    } else {
      const { writeMusicXml } = await import('../engine/exports');
      saveFile(
        fileName(arrangement.title, 'musicxml'),
        writeMusicXml(arrangement),
        'application/vnd.recordare.musicxml+xml',
      );
    }
  };
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button variant="transparent" c="var(--on-velvet)" leftSection={<IconDownload size={18} />} px={6}>
          Export
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => void save('musicxml')}>MusicXML (notation and tab)</Menu.Item>
        <Menu.Item onClick={() => void save('mid')}>MIDI</Menu.Item>
        <Menu.Item onClick={() => void save('json')}>Bundle (tune and arrangement)</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
