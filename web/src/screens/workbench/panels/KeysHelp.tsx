import { Kbd, Modal, Table } from '@mantine/core';
import { Fragment } from 'react';

/** All keys of a screen, from the very list that it listens to. */
export function KeysHelp({
  opened,
  onClose,
  rows,
}: {
  opened: boolean;
  onClose: () => void;
  rows: readonly { caps: string[][]; does: string }[];
}) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Keys on the Workbench"
      closeButtonProps={{ 'aria-label': 'Close the list of keys' }}
    >
      <Table>
        <Table.Tbody>
          {rows.map(({ caps, does }) => (
            <Table.Tr key={does}>
              <Table.Td w={150}>
                {caps.map((pressed, i) => (
                  <Fragment key={pressed.join()}>
                    {i > 0 && ' '}
                    {pressed.map((cap, j) => (
                      <Fragment key={cap}>
                        {j > 0 && '+'}
                        <Kbd>{cap}</Kbd>
                      </Fragment>
                    ))}
                  </Fragment>
                ))}
              </Table.Td>
              <Table.Td>{does}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Modal>
  );
}
