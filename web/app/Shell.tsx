import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { Navigate, NavLink, Outlet, useLocation } from 'react-router';
import type { Me } from '@ecoute/contract/people';
import { useSessionQuery } from '../features/signIn/endpoints';
import { Announcements } from '../parts/Announcements';
import { Failed, Loading } from '../parts/Loading';
import { Notice } from '../parts/Notice';
import { lazyPart } from '../parts/lazyPart';
import { useFirstPage } from '../parts/page';
import { usePlayed } from '../parts/player/usePlayer';
import { desk } from '../parts/recorder/delivery';
import { useDeliveries } from '../parts/recorder/useDeliveries';
import { pageOf } from '../base/own';
import { useOnline } from '../base/useOnline';
import { forgetSaid } from '../base/offline';
import { Account } from './Account';
import { forgetPerson } from './forgetPerson';
import { useChanges } from './useChanges';
import { onLanguage, ownLanguage, screenLanguage, setScreenLanguage, t } from '../base/i18n';

/** Fetched with the first sound that is heard, or once the page has settled. */
const transport = () => import('../parts/player/TransportBar');
const TransportBar = lazyPart<object>(() => transport().then(m => ({ default: m.TransportBar })));
/** Then the page is there, and the bar that says why nothing sounds is fetched: without a network it could not be. */
const SETTLED_MS = 1_500;

/** What an earlier page wanted handed in is done whichever page is open. */
const HandInsOfDevice = lazyPart<{ isSilent: boolean }>(() =>
  import('../features/sit/handIn/Wanted').then(m => ({ default: m.HandInsOfDevice })),
);

const PLACES: Record<Me['role'], [string, string][]> = {
  teacher: [
    ['/set', 'Set'],
    ['/release', 'Release'],
    ['/listen', 'Listen'],
    ['/results', 'Results'],
    ['/classes', 'Classes'],
  ],
  student: [
    ['/', 'Now'],
    ['/feedback', 'Feedback'],
    ['/recordings', 'My recordings'],
  ],
};

function Mark() {
  return (
    <svg aria-hidden viewBox="0 0 44 22" className="h-5 w-10">
      <path d="M6 2 H20 V9 H1 Z" fill="var(--saffron)" />
      <rect
        x="22"
        y="2"
        width="20"
        height="7"
        fill="none"
        stroke="var(--line-strong)"
        strokeDasharray="2 2"
      />
      <rect x="1" y="12" width="41" height="8" fill="var(--petrol)" />
    </svg>
  );
}

/** What is still on its way, wherever in the application somebody is. */
function OnTheWay({ sitting }: { sitting: boolean }) {
  const waiting = useDeliveries().filter(d => d.state === 'waitingForNetwork');
  const online = useOnline();
  if (waiting.length === 0 && (online || !sitting)) return null;
  return (
    <div className="mx-auto max-w-[1400px] px-4 pt-4">
      <Notice kind="offline">
        {waiting.find(d => d.message)?.message ??
          t(
            'No connection to Ecoute. What is recorded is kept on this device and goes on its way automatically when the connection is back. You can go on recording.',
          )}
      </Notice>
    </div>
  );
}

/** One bar at the top, the work below at full width, the transport at the bottom while anything plays. */
export function Shell() {
  const { data, isLoading, error, refetch } = useSessionQuery();
  const isFetched = useFirstPage();
  const location = useLocation();
  const hasTrack = usePlayed(state => state.track !== null);
  // In a sitting prompts play once, as set: nothing there may pause, repeat or slow them.
  const sitting = /^\/sit\/|\/rehearsal$/.test(location.pathname);
  const me = data?.me;
  const language = useSyncExternalStore(onLanguage, screenLanguage);
  const role = me?.role;

  // Teachers' screens are English; students have theirs, but for a sitting that is set in another.
  useEffect(() => {
    if (!sitting) void setScreenLanguage(role === 'teacher' ? 'en' : ownLanguage()).catch(() => undefined);
  }, [role, sitting]);

  useChanges(me?.id, sitting);

  // Signed out elsewhere, or for too long: as when they sign out here.
  const wasHere = useRef(false);
  const isOut = data !== undefined && !me;
  useEffect(() => {
    if (me) wasHere.current = true;
    if (!isOut) return;
    void (wasHere.current ? forgetPerson() : forgetSaid());
    wasHere.current = false;
  }, [me, isOut]);

  const personId = me?.id;
  /** Whose recordings of an earlier page are taken up. */
  const [resumed, setResumed] = useState('');
  // Before anything on the page looks for what is kept.
  pageOf(personId);
  useEffect(() => {
    if (personId) void desk.resume(personId).then(() => setResumed(personId));
  }, [personId]);

  useEffect(() => {
    if (!personId) return;
    const timer = setTimeout(() => void transport().catch(() => undefined), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [personId]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (!desk.settled()) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);

  if (isLoading)
    return (
      <div className="p-6">
        <Loading />
      </div>
    );
  if (error && !data)
    return (
      <div className="mx-auto max-w-2xl p-6">
        <Failed error={error} again={() => void refetch()} />
      </div>
    );
  if (!me) return <Navigate to="/sign-in" state={{ from: location.pathname + location.search }} replace />;
  return (
    <>
      <a
        href="#work"
        data-behind-stage
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-3"
      >
        {t('Skip to the work')}
      </a>
      <Announcements />
      <header data-behind-stage className="border-b border-line bg-sheet print:hidden">
        <div className="mx-auto flex max-w-[1400px] flex-wrap items-center gap-x-6 px-4">
          <NavLink to="/" end className="flex min-h-12 items-center gap-2 text-lg font-semibold">
            <Mark />
            Ecoute
          </NavLink>
          <nav
            aria-label={t('Main')}
            className="order-3 -mx-2 flex w-full overflow-x-auto sm:order-none sm:mx-0 sm:w-auto"
          >
            {PLACES[me.role].map(([to, name]) => (
              <NavLink
                key={to}
                to={to}
                end={to === '/'}
                className="flex min-h-12 items-center border-b-4 border-transparent px-3 whitespace-nowrap aria-[current=page]:border-ink aria-[current=page]:font-semibold"
              >
                {t(name)}
              </NavLink>
            ))}
          </nav>
          <div className="ms-auto min-w-0">
            <Account me={me} busy={sitting} mailbox={data.showsMailbox && me.role === 'teacher'} />
          </div>
        </div>
      </header>
      <OnTheWay sitting={sitting} />
      {me.role === 'student' && resumed === me.id && <HandInsOfDevice isSilent={sitting} />}
      <main id="work" className={`mx-auto max-w-[1400px] px-4 py-6 ${hasTrack && !sitting ? 'pb-28' : ''}`}>
        {isFetched ? <Outlet key={sitting ? 'sitting' : language} context={me} /> : <Loading />}
      </main>
      {!sitting && hasTrack && <TransportBar />}
    </>
  );
}
