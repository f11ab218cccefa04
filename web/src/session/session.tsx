import { noop, type QueryClient, queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, use, useEffect, useState } from 'react';
import { answered, api, onSessionEnded, type Permission, type Person, type Shown } from '../api/client';
import { Failure, isFailure } from '../api/failure';
import { queries } from '../api/queries';
import { lastSeen } from '../device/lastSeen';
import { hangClock } from '../words/time';

type Session =
  | { kind: 'loading' }
  | { kind: 'away'; error: unknown }
  | { kind: 'nobody' }
  /**
   * `ended`: the server has forgotten the session; what is on the screen stays until the person is back.
   * `asked`: the person was doing something that needs it, so they are asked to sign in. Until then
   * nothing takes the focus from what they type.
   * `locked`: the terminal waits for whoever comes next; what is on the screen is kept out of sight.
   */
  | { kind: 'person'; person: Person; ended: boolean; asked: boolean; locked: boolean };

interface Access {
  session: Session;
  signIn: (login: string, password: string) => Promise<void>;
  /** Chooses one's own password; other sessions end. */
  choosePassword: (password: string, chosen: string) => Promise<void>;
  /** Takes a shared terminal over by PIN or badge. */
  takeOver: (shown: Shown) => Promise<void>;
  /** Ends the session and hides the screen; what is typed stays. Without a server nobody could unlock, so nothing happens. */
  lock: () => Promise<void>;
  signOut: () => Promise<void>;
  /** Asks who is there. */
  ask: () => void;
  retry: () => void;
}

const Context = createContext<Access | null>(null);

const KEY = queries.session;
/** Where the device keeps who was there last. */
const SEEN = 'person';

/** Where the device keeps the time zone of the site. */
const ZONE = 'zone';

/** The page is drawn meanwhile; a device that cannot keep it is no worse for now. */
const keep = (key: string, value: unknown) => void lastSeen.setItem(key, value).catch(noop);

const theSite = () => answered(api.GET('/api/site'));

/** Times are shown by the site's clock; without a network by the one that was seen last. */
async function lookAtTheClock(site = theSite()) {
  try {
    const { time_zone } = await site;
    hangClock(time_zone);
    keep(ZONE, time_zone);
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    const before = await lastSeen.getItem(ZONE);
    if (typeof before === 'string') hangClock(before);
  }
}

/** Without a network, who was there last: what they enter waits on the device, in their name. */
async function whoIsThere(): Promise<Person | null> {
  // Both at once: the page waits for them.
  const site = theSite();
  site.catch(() => undefined);
  try {
    const person = await answered(api.GET('/api/session'));
    keep(SEEN, person);
    await lookAtTheClock(site);
    return person;
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    if (isFailure(error, 'not_signed_in')) return null;
    const before = isFailure(error, 'away') ? await lastSeen.getItem(SEEN) : undefined;
    if (!isPerson(before)) throw error;
    await lookAtTheClock(site);
    return before;
  }
}

/** What an older program kept of a person does not say what they may do, or where they belong. */
function isPerson(kept: unknown): kept is Person {
  return typeof kept === 'object' && kept !== null && 'may' in kept && 'stations' in kept;
}

const WHO = queryOptions({ queryKey: KEY, staleTime: Infinity, retry: false, queryFn: whoIsThere });

/** Asks who is there, and for what most see first; done when both are answered, whatever the answer. */
export async function askAhead(client: QueryClient, path: string): Promise<void> {
  const round = path === '/' || path === '/rounds' ? [client.query(queries.rounds)] : [];
  await Promise.allSettled([client.query(WHO), ...round]);
}

export function SessionProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [ended, setEnded] = useState(false);
  const [asked, setAsked] = useState(false);
  const [locked, setLocked] = useState(false);
  useEffect(
    () =>
      onSessionEnded((during) => {
        setEnded(true);
        if (during === 'deed') setAsked(true);
      }),
    [],
  );
  const query = useQuery(WHO);

  const known = query.data;
  // Once a person is known only signing out forgets them: a session that ends must not clear the screen.
  const [person, setPerson] = useState<Person | null>(null);
  if (known && known.id !== person?.id) setPerson(known);
  if (known === null && person && !ended) setEnded(true);

  /** Nothing that one person saw is shown to the next; what waits to be sent stays. */
  const forgetAll = async () => {
    client.clear();
    await lastSeen.clear();
  };
  const arrive = async (signedIn: Person) => {
    if (person?.id !== signedIn.id) await forgetAll();
    keep(SEEN, signedIn);
    await lookAtTheClock();
    client.setQueryData(KEY, signedIn);
    setPerson(signedIn);
    setEnded(false);
    setAsked(false);
    setLocked(false);
    void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== KEY[0] });
  };
  const access: Access = {
    session: sessionOf(query, person, { ended, asked, locked }),
    signIn: async (login, password) => arrive(await answered(api.POST('/api/session', { body: { login, password } }))),
    choosePassword: async (password, chosen) =>
      arrive(await answered(api.PUT('/api/me/password', { body: { password, new: chosen } }))),
    takeOver: async (shown) => arrive(await answered(api.POST('/api/terminal', { body: shown }))),
    lock: async () => {
      try {
        await answered(api.DELETE('/api/session'));
        setLocked(true);
      } catch (error) {
        // Whatever the server cannot do now, the idle wait asks for again.
        if (!(error instanceof Failure)) throw error;
      }
    },
    signOut: async () => {
      await answered(api.DELETE('/api/session'));
      await forgetAll();
      setPerson(null);
      setEnded(false);
      setLocked(false);
      client.setQueryData(KEY, null);
    },
    ask: () => setAsked(true),
    retry: () => void query.refetch(),
  };
  return <Context value={access}>{children}</Context>;
}

interface Presence {
  ended: boolean;
  asked: boolean;
  locked: boolean;
}

function sessionOf(query: { isPending: boolean; error: unknown }, person: Person | null, presence: Presence): Session {
  if (person) return { kind: 'person', person, ...presence };
  if (query.isPending) return { kind: 'loading' };
  return query.error ? { kind: 'away', error: query.error } : { kind: 'nobody' };
}

export function useAccess(): Access {
  const access = use(Context);
  if (!access) throw new Error('useAccess outside SessionProvider');
  return access;
}

/** Who is signed in; only for what is shown to somebody who is. */
export function usePerson(): Person {
  const { session } = useAccess();
  if (session.kind !== 'person') throw new Error('usePerson without a person');
  return session.person;
}

/** Whether who is signed in may do something; the server has the last word. */
export function useMay(permission: Permission): boolean {
  return usePerson().may.includes(permission);
}

/** Whether who is signed in may enter or change something at a station: who is bound does so at their own alone. */
export function useMayAt(permission: Permission, station: string): boolean {
  const { bound, may, stations } = usePerson();
  return may.includes(permission) && (!bound || stations.includes(station));
}

/** Whether a list begins with the stations of who is signed in: they belong somewhere, and may look further. */
export function useOwnStations(): readonly string[] | null {
  const { role, stations } = usePerson();
  return role === 'reader' || stations.length === 0 ? null : stations;
}
