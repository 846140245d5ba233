import { ActionIcon, useMantineColorScheme } from '@mantine/core';
import { useDisclosure, useHotkeys } from '@mantine/hooks';
import { IconDeviceDesktop, IconHelp, IconLogout, IconMoon, IconSearch, IconSun } from '@tabler/icons-react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useState } from 'react';
import { NavLink } from 'react-router';
import { answer, passOn } from '../api/client';
import { RingEverywhere } from '../areas/hob/RingEverywhere';
import { Loaded } from './Loaded';
import { useMay, usePerson } from './person';
import classes from './Shell.module.css';
import { FindBox, loadFind, ShortcutsDialog } from './screens';
import { ShortcutsProvider } from './shortcuts';

/** Only what exists has an entry. */
const ENTRIES = [
  { to: '/', title: 'Today' },
  { to: '/plan', title: 'Plan' },
  { to: '/formulas', title: 'Formulas' },
  { to: '/pantry', title: 'Pantry' },
  { to: '/batches', title: 'Batches' },
  { to: '/drinks', title: 'Drinks' },
  { to: '/bottles', title: 'Bottles' },
  { to: '/tastings', title: 'Tastings' },
  { to: '/calculators', title: 'Calculators' },
  { to: '/site', title: 'Site' },
];

/** What a bar's own sign-in has. */
const OF_A_BAR = [
  { to: '/bottles', title: 'Bottles' },
  { to: '/drinks/doses', title: 'Doses' },
];

const SCHEMES = {
  auto: { next: 'light', icon: IconDeviceDesktop },
  light: { next: 'dark', icon: IconSun },
  dark: { next: 'auto', icon: IconMoon },
} as const;

/** The rail (a bar at the bottom on a tablet) and the screen beside it. */
export function Shell({ children }: { children: ReactNode }) {
  return (
    <ShortcutsProvider>
      <Frame>{children}</Frame>
    </ShortcutsProvider>
  );
}

function Frame({ children }: { children: ReactNode }) {
  const [help, helpIs] = useDisclosure(false);
  const [find, findIs] = useDisclosure(false);
  // What was opened once stays, so that it can close as it opened.
  const [found, setFound] = useState(false);
  const [helped, setHelped] = useState(false);
  if (find && !found) setFound(true);
  if (help && !helped) setHelped(true);
  const person = usePerson();
  const reads = useMay('read');
  useEffect(() => (reads ? loadFind() : undefined), [reads]);
  const queryClient = useQueryClient();
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  const signOut = useMutation({
    mutationFn: () => passOn((by) => answer(by.DELETE('/api/v1/session'))),
    onSuccess: () => {
      queryClient.clear();
      window.location.assign('/');
    },
  });
  useHotkeys([
    ['/', () => reads && findIs.open()],
    // Which of the two it is depends on the keyboard.
    ['shift+?', helpIs.open],
    ['?', helpIs.open],
  ]);
  const scheme = SCHEMES[colorScheme];
  return (
    <div className={classes.frame}>
      <a className={classes.skip} href="#main">
        Skip to the screen
      </a>
      <nav className={classes.rail} aria-label="Main">
        <div className={classes.brand} aria-hidden="true">
          Oaken
          <br />
          Jug
        </div>
        <ul className={classes.entries} data-sideways="">
          {(reads ? ENTRIES : OF_A_BAR).map((entry) => (
            <li key={entry.to}>
              <NavLink to={entry.to} end={entry.to === '/'} className={classes.entry}>
                {entry.title}
              </NavLink>
            </li>
          ))}
        </ul>
        <div className={classes.tools}>
          {reads && <Tool label="Find (/)" onClick={findIs.open} icon={<IconSearch size={19} />} />}
          <Tool label="Shortcuts (?)" onClick={helpIs.open} icon={<IconHelp size={19} />} />
          <Tool
            label={`Theme: ${colorScheme}`}
            onClick={() => setColorScheme(scheme.next)}
            icon={<scheme.icon size={19} />}
          />
          <Tool label={`Sign out ${person.name}`} onClick={() => signOut.mutate()} icon={<IconLogout size={19} />} />
        </div>
      </nav>
      <main id="main" className={classes.main} tabIndex={-1}>
        <RingEverywhere />
        {children}
      </main>
      <Loaded quiet>
        {(find || found) && <FindBox opened={find} onClose={findIs.close} />}
        {(help || helped) && <ShortcutsDialog opened={help} onClose={helpIs.close} />}
      </Loaded>
    </div>
  );
}

function Tool({ label, icon, onClick }: { label: string; icon: ReactNode; onClick: () => void }) {
  return (
    <ActionIcon
      variant="transparent"
      className={classes.tool}
      size={44}
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      {icon}
    </ActionIcon>
  );
}
