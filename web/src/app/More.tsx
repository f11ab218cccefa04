import { Button, Divider, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { FRAME } from '../words/app';
import type { Mode } from '../ui/mode';
import { useAccess, usePerson } from '../session/session';
import { useSharedTerminal } from '../session/sharedTerminal';

interface Props {
  /** Places that have no room in the bar. */
  places: readonly { to: string; name: string }[];
  mode: Mode;
  onMode: () => void;
}

/** On a phone: the places that are used less, and what is one's own. */
export function More({ places, mode, onMode }: Props) {
  const { signOut, lock } = useAccess();
  const shared = useSharedTerminal() !== null;
  const person = usePerson();
  const [opener, setOpener] = useState<HTMLElement | null>(null);
  const end = () => setOpener(null);
  const other = mode === 'dark' ? 'light' : 'dark';
  const item = { minHeight: 48 };
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" onClick={(event) => setOpener(event.currentTarget)}>
        {FRAME.more}
      </Button>
      <Menu anchorEl={opener} open={opener !== null} onClose={end}>
        {places.map(({ to, name }) => (
          <MenuItem key={to} component={RouterLink} to={to} onClick={end} sx={item}>
            {name}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem component={RouterLink} to="/me" onClick={end} sx={item}>
          {person.name}
        </MenuItem>
        <MenuItem
          sx={item}
          onClick={() => {
            end();
            onMode();
          }}
        >
          {FRAME.switchTo[other]}
        </MenuItem>
        {shared && (
          <MenuItem sx={item} onClick={() => void lock()}>
            {FRAME.switchPerson}
          </MenuItem>
        )}
        <MenuItem sx={item} onClick={() => void signOut()}>
          {FRAME.signOut}
        </MenuItem>
      </Menu>
    </>
  );
}
