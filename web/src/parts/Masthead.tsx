import { ActionIcon, useMantineColorScheme } from '@mantine/core';
import { IconLamp, IconLampOff } from '@tabler/icons-react';
import { type ReactNode, useEffect, useRef } from 'react';
import { Link, NavLink, useLocation } from 'react-router';
import styles from './Masthead.module.css';

interface MastheadProps {
  title: string;
  under?: string | undefined;
  /**
   * What the stops of the rail lead to: a stop of what is not there yet leads nowhere. A tune without an id is one that is
   * still being written, on this screen.
   */
  rail?: { tuneId?: string | undefined; arrangementId?: string | undefined };
  children?: ReactNode;
}

/** Whether a screen has been shown: the first one leaves the focus to the browser. */
let shown = false;

/** The velvet band: what is open, the way through it, and the lamp. It names the page and takes the focus of a new one. */
export function Masthead({ title, under, rail, children }: MastheadProps) {
  const { colorScheme, toggleColorScheme } = useMantineColorScheme();
  const { pathname } = useLocation();
  const tune = rail?.tuneId && `/tune/${rail.tuneId}`;
  const arrangement = rail?.arrangementId && `/arrangement/${rail.arrangementId}`;
  const stops = rail && [
    { name: 'Tune', to: tune ?? pathname },
    { name: 'Key & capo', to: tune && `${tune}/key` },
    { name: 'Shapes', to: tune && `${tune}/shapes` },
    { name: 'Workbench', to: arrangement },
    { name: 'Lesson', to: arrangement && `${arrangement}/lesson` },
    { name: 'Handout', to: arrangement && `${arrangement}/handout` },
  ];
  const lampOff = colorScheme === 'dark';
  const here = stops?.find(
    stop => stop.to && (stop.to === pathname || (stop.name === 'Lesson' && pathname.startsWith(stop.to))),
  );
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (shown) heading.current?.focus({ preventScroll: true });
    shown = true;
  }, []);
  const page = [title, here && here.name !== 'Tune' && here.name, title !== 'Velvet Porch' && 'Velvet Porch'];
  return (
    <header className={styles.masthead}>
      <title>{page.filter(Boolean).join(' · ')}</title>
      <div className={styles.open}>
        <h1 ref={heading} tabIndex={-1} title={title}>
          {title}
        </h1>
        {under && <div className={styles.under}>{under}</div>}
      </div>
      {stops && (
        <nav aria-label="The way through a tune">
          <ul className={styles.rail}>
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
      <div className={styles.fill} />
      {children}
      <div className={styles.home}>
        {!rail && pathname !== '/pupils' && !pathname.startsWith('/porch') && (
          <Link to="/pupils">Pupils</Link>
        )}
        {pathname !== '/' && <Link to="/">Shelf</Link>}
        <ActionIcon
          variant="transparent"
          color="gray.3"
          size="lg"
          onClick={() => toggleColorScheme()}
          aria-label={lampOff ? 'Turn the lamp on (light colours)' : 'Turn the lamp off (dark colours)'}
        >
          {lampOff ? <IconLampOff /> : <IconLamp />}
        </ActionIcon>
      </div>
    </header>
  );
}
