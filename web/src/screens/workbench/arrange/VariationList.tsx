import { Button, Group, Text } from '@mantine/core';
import { useState } from 'react';
import type { Arrangement } from '#core/score';
import common from '../../../theme/common.module.css';
import { type MadeVariation, useVariations, type VariationsAsked } from './useVariations';

const DIFFERS = { texture: 'another texture', bass: 'another bass', register: 'another register' };

interface VariationListProps {
  arrangement: Arrangement;
  /** What is varied: "measures 5 to 8". */
  where: string;
  /** What to ask for now. */
  ask: () => VariationsAsked;
  proposal: Arrangement | undefined;
  onPropose: (proposal: Arrangement) => void;
}

/** What is another in a setting, and what it changes, as far as it is made. */
function told({ differs, came, trouble }: MadeVariation): string {
  if (trouble) return trouble;
  if (!came) return 'being made …';
  const { changed, shown, difficulty } = came;
  if (!shown) return `${DIFFERS[differs]}: there is none here`;
  const from = difficulty.before.toFixed(1);
  const to = difficulty.after.toFixed(1);
  return `${DIFFERS[differs]}; difficulty ${from} → ${to}, ${changed} ${changed === 1 ? 'measure' : 'measures'} changed`;
}

/** Three other settings of a part, made on demand, to be shown, heard and taken, whole or measure by measure. */
export function VariationList({ arrangement, where, ask, proposal, onPropose }: VariationListProps) {
  const [asked, setAsked] = useState<{ of: Arrangement; what: VariationsAsked; where: string }>();
  // Measures that are taken while one is shown leave the others as they are; any other change makes them out of date.
  if (asked && asked.of !== arrangement) setAsked(proposal ? { ...asked, of: arrangement } : undefined);
  const all = useVariations(asked?.what);
  return (
    <div className={common.stack}>
      <Button variant="default" onClick={() => setAsked({ of: arrangement, what: ask(), where })}>
        Make three for {where}
      </Button>
      {all.length > 0 && (
        <ul className={common.kept} aria-label={`Other settings of ${asked?.where ?? where}`}>
          {all.map(variation => {
            const { name, differs, came } = variation;
            const made = came?.made;
            return (
              <li
                key={differs + name}
                className={proposal !== undefined && proposal === made ? common.looked : undefined}
              >
                <div>
                  <strong>{name}</strong>
                  <div className={common.about}>{told(variation)}</div>
                </div>
                {made && came.shown > 0 && (
                  <Group gap={6}>
                    <Button
                      size="compact-sm"
                      variant="default"
                      aria-pressed={proposal === made}
                      onClick={() => onPropose(made)}
                    >
                      {proposal === made ? 'Shown' : 'Show it'}
                    </Button>
                  </Group>
                )}
              </li>
            );
          })}
        </ul>
      )}
      {all.some(({ came }) => came && came.made === proposal) && (
        <Text size="sm">
          It stands in the score now: hear it with the space bar, then take it, whole or only the measures at
          the cursor.
        </Text>
      )}
    </div>
  );
}
