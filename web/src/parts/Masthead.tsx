import { ActionIcon, useMantineColorScheme } from '@mantine/core';
import { IconLamp, IconLampOff } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { Link, NavLink } from 'react-router';

interface MastheadProps {
  title: string;
  under?: string | undefined;
  /** Where the rail's stops lead; a stop without an address is not there yet. */
  rail?: {
    tune: string;
    workbench?: string | undefined;
    lesson?: string | undefined;
    handout?: string | undefined;
  };
  children?: ReactNode;
}

/** The velvet band: what is open, the way through it, and the lamp. */
export function Masthead({ title, under, rail, children }: MastheadProps) {
  const { colorScheme, toggleColorScheme } = useMantineColorScheme();
  // A tune that is still being written has no further stops.
  const onShelf = rail?.tune.startsWith('/tune/');
  const stops = rail && [
    { name: 'Tune', to: rail.tune },
    { name: 'Key & capo', to: onShelf ? `${rail.tune}/key` : undefined },
    { name: 'Shapes', to: onShelf ? `${rail.tune}/shapes` : undefined },
    { name: 'Workbench', to: rail.workbench },
    { name: 'Lesson', to: rail.lesson },
    { name: 'Handout', to: rail.handout },
  ];
  const lampOff = colorScheme === 'dark';
  return (
    <header className="masthead">
      <div>
        <h1 style={{ margin: 0, fontFamily: 'var(--title)' }}>{title}</h1>
        {under && <div className="under">{under}</div>}
      </div>
      {stops && (
        <nav aria-label="The way through a tune">
          <ul className="rail">
            {stops.map(
              stop =>
                stop.to && (
                  <li key={stop.name}>
                    <NavLink to={stop.to} end={stop.name !== 'Lesson'}>
                      {stop.name}
                    </NavLink>
                  </li>
                ),
            )}
          </ul>
        </nav>
      )}
      <div className="fill" />
      {children}
      {rail && <Link to="/">Shelf</Link>}
      <ActionIcon
        variant="transparent"
        color="gray.3"
        size="lg"
        onClick={() => toggleColorScheme()}
        aria-label={lampOff ? 'Turn the lamp on (light colours)' : 'Turn the lamp off (dark colours)'}
      >
        {lampOff ? <IconLampOff /> : <IconLamp />}
      </ActionIcon>
    </header>
  );
}
