import { Kbd, Modal, Table } from '@mantine/core';

const KEYS: [string[], string][] = [
  [['←', '→'], 'to the note before or after'],
  [['Alt', '←'], 'to the measure before (→ after)'],
  [['↑', '↓'], 'to the thinner or thicker string'],
  [['0'], 'to 9: fret of the note (two digits quickly for 10 and up)'],
  [['Alt', '1'], 'to 4: finger of the note'],
  [['Shift', '↑'], 'the note to the next string, same pitch (also ↓)'],
  [['H'], 'hammered or pulled out of the note before; again: plucked'],
  [['S'], 'slid out of the note before; again: plucked'],
  [['>'], 'accent on or off'],
  [['P'], 'plucked by the thumb (I, M, A: a finger); again: as the school has it'],
  [['Delete'], 'take a bass or inner note out'],
  [['Shift', '→'], 'choose more measures for the loop (← fewer)'],
  [['Space'], 'play or stop'],
  [['L'], 'loop on or off'],
  [['Ctrl', 'Z'], 'undo; with Shift redo'],
  [['Home'], 'to the first measure; End to the last'],
  [['?'], 'these keys'],
];

/** All keys of the Workbench. */
export function KeysHelp({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Keys on the Workbench">
      <Table>
        <Table.Tbody>
          {KEYS.map(([pressed, does]) => (
            <Table.Tr key={does}>
              <Table.Td w={130}>
                {pressed.map((k, i) => (
                  <span key={k}>
                    {i > 0 && (pressed[0]!.length > 1 ? ' + ' : ' ')}
                    <Kbd>{k}</Kbd>
                  </span>
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
