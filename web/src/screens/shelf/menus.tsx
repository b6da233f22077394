import { Loader, Menu, Popover } from '@mantine/core';
import { IconDownload, IconTrash, IconUpload, IconWaveSine } from '@tabler/icons-react';
import { lazy, type ReactElement, Suspense } from 'react';
import { Link } from 'react-router';

const TodayList = lazy(async () => ({ default: (await import('./TodayList')).TodayList }));

/** What opens from a button of the shelf. */
interface FromButton {
  opened: boolean;
  onChange: (opened: boolean) => void;
  button: ReactElement;
}

/** What the day asks for. */
export function TodayPopover({ opened, onChange, button }: FromButton) {
  return (
    <Popover position="bottom-end" width={320} shadow="md" opened={opened} onChange={onChange}>
      <Popover.Target>{button}</Popover.Target>
      <Popover.Dropdown>
        <Suspense fallback={<Loader size="sm" aria-label="Reading the day" />}>
          <TodayList />
        </Suspense>
      </Popover.Dropdown>
    </Popover>
  );
}

/** What is done with the studio as a whole. */
export function StudioMenu({
  opened,
  onChange,
  button,
  onExport,
  onOpen,
}: FromButton & { onExport: () => void; onOpen: () => void }) {
  return (
    <Menu position="bottom-end" opened={opened} onChange={onChange}>
      <Menu.Target>{button}</Menu.Target>
      <Menu.Dropdown>
        <Menu.Item leftSection={<IconDownload size={16} />} onClick={() => onExport()}>
          Export the whole studio
        </Menu.Item>
        <Menu.Item leftSection={<IconWaveSine size={16} />} component={Link} to="/tuner">
          Tuner
        </Menu.Item>
        <Menu.Item leftSection={<IconUpload size={16} />} onClick={onOpen}>
          Open files (ABC, ChordPro, MusicXML, MIDI, bundle)
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

/** What can be done with one tune. */
export function TuneMenu({ opened, onChange, button, onRemove }: FromButton & { onRemove: () => void }) {
  return (
    <Menu position="bottom-end" opened={opened} onChange={onChange}>
      <Menu.Target>{button}</Menu.Target>
      <Menu.Dropdown>
        <Menu.Item c="var(--cranberry)" leftSection={<IconTrash size={16} />} onClick={onRemove}>
          Take off the shelf
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
