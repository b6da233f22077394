import { Alert, Button, Group } from '@mantine/core';
import { useSetAside, useStoreChange } from '../../data/queries';
import { clearSetAside } from '../../data/store';
import { saveFile } from '../../engine/files';
import { BusyButton } from '../../parts/BusyButton';
import common from '../../theme/common.module.css';

/** Names the stored records that could not be read: they are kept apart, and all else is there. */
export function SetAsideNotice() {
  const setAside = useSetAside();
  const forget = useStoreChange(clearSetAside);
  const records = setAside.data ?? [];
  if (!records.length) return null;
  return (
    <Alert
      color="cranberry"
      mb="md"
      title={`${records.length} record${records.length > 1 ? 's' : ''} could not be read and ${records.length > 1 ? 'were' : 'was'} set aside`}
    >
      <ul className={common.problems}>
        {records.slice(0, 6).map(record => (
          <li key={record.key}>
            {record.name} ({record.kind.slice(0, -1)}): {record.fault}
          </li>
        ))}
      </ul>
      <Group gap={8}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => saveFile('set-aside.json', JSON.stringify(records, null, 1), 'application/json')}
        >
          Download them
        </Button>
        <BusyButton
          size="compact-sm"
          variant="default"
          busy={forget.isPending}
          onClick={() => forget.mutate()}
        >
          Forget them
        </BusyButton>
      </Group>
    </Alert>
  );
}
