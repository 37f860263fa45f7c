import { ArrowLeft, ArrowRight } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Outlet, useNavigate, useParams } from 'react-router';
import { phaseAt, type Phase } from '@ecoute/core/timing/itemRun';
import type { PhoneView } from '@ecoute/contract/handovers';
import type { Me } from '@ecoute/contract/people';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { useTitle } from '../../base/useTitle';
import { Announcements } from '../../parts/Announcements';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { player } from '../../parts/player/usePlayer';
import { desk } from '../../parts/recorder/delivery';
import type { Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { DeviceCheck } from '../sit/device/DeviceCheck';
import { WhereContext, type Where } from '../sit/device/device';
import { ItemStage } from '../sit/ItemStage';
import { takesOf } from '../sit/takes/takesOf';
import { useAccount } from '../sit/useAccount';
import { useSittingLanguage } from '../sit/useSittingLanguage';
import { ownLanguage, setScreenLanguage, t } from '../../base/i18n';
import {
  useClosePhoneMutation,
  useMovePhoneMutation,
  useOpenPhoneMutation,
  usePhoneQuery,
} from './endpoints';

const ASK_EVERY_MS = 4_000;

/** Signed in as nobody: what is kept here until it has arrived is kept under this name. */
const PHONE: Me = { id: 'phone', displayName: '', role: 'student', isGuest: false };
const ON_PHONE: Where = { kind: 'phone' };

/** The frame of a phone that records for another screen: a name at the top, and nothing that leads elsewhere. */
export function PhoneShell() {
  useEffect(() => {
    void desk.resume(PHONE.id);
    void setScreenLanguage(ownLanguage()).catch(() => undefined);
    const warn = (event: BeforeUnloadEvent) => {
      if (!desk.settled()) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);
  return (
    <WhereContext value={ON_PHONE}>
      <Announcements />
      <header data-behind-stage className="border-b border-line bg-sheet px-4 py-3 text-lg font-semibold">
        Ecoute
      </header>
      <main className="mx-auto max-w-3xl px-4 py-6">
        <Outlet context={PHONE} />
      </main>
    </WhereContext>
  );
}

/** While one of these goes on, a phone stays where it is, wherever the first screen goes. */
const BUSY = new Set<Phase>(['prompt', 'prepare', 'record', 'paused']);

/** Item by item, from the microphone to takes that appear on the first screen. */
function OnPhone({ view: newest, isSentAway }: { view: PhoneView; isSentAway: boolean }) {
  const account = useAccount(newest.sitting.id, newest.sitting.events);
  // What runs is not taken away from under anybody.
  const [shown, setShown] = useState(newest);
  const at = shown.sitting.content.items[0]!;
  const isBusy = BUSY.has(phaseAt(at, account.ofItem(at.id), serverNow()).phase);
  const isSame = newest.sitting.content.items[0]!.id === at.id;
  if (shown !== newest && (isSame || !isBusy)) setShown(newest);
  const view = shown;
  const { sitting } = view;
  const [microphone, setMicrophone] = useState<Microphone | null>(null);
  const [ready, setReady] = useState(false);
  const deliveries = useDeliveries();
  const [move, moving] = useMovePhoneMutation();
  const [close, closing] = useClosePhoneMutation();
  const item = sitting.content.items[0]!;
  const takes = takesOf(item.id, sitting, deliveries);
  const arrived = takes.some(take => take.status === 'stored' && take.source === 'phone');
  // Of any item: what is on its way when the phone is put away goes on its way only while this page is open.
  const onItsWay = deliveries.some(d => d.state === 'sending' || d.state === 'waitingForNetwork');
  const place = view.itemIds.indexOf(item.id);
  const goTo = (to: number) => (
    <Button
      look={to > place && arrived ? 'main' : 'plain'}
      disabled={isBusy || moving.isLoading}
      onClick={() => void move(view.itemIds[to]!)}
    >
      {to < place && <ArrowLeft aria-hidden className="size-5 rtl:-scale-x-100" />}
      {t('Item {{number}}', { number: view.numbers[to] })}
      {to > place && <ArrowRight aria-hidden className="size-5 rtl:-scale-x-100" />}
    </Button>
  );
  const refusal = refusalOf(moving.error);
  useEffect(
    () => () => {
      microphone?.close();
      player.close();
    },
    [microphone],
  );
  // What runs is finished, and sent, first.
  if (closing.isSuccess || (isSentAway && !isBusy && !onItsWay))
    return (
      <section className="grid gap-3 bg-sheet p-5">
        <h1 className="text-2xl">{t('Done here')}</h1>
        <p>{t('What you recorded is on the first screen. Go on there; this page can be closed.')}</p>
      </section>
    );
  if (view.over) return <Notice>{t('This sitting is handed in. This page can be closed.')}</Notice>;
  if (!microphone || !ready)
    return (
      <DeviceCheck
        forMusic={sitting.subject === 'music'}
        playsAlong={false}
        microphone={microphone}
        onMicrophone={setMicrophone}
        onDone={() => setReady(true)}
      />
    );
  return (
    <div className="grid gap-4">
      <h1 dir="auto" className="text-xl">
        {sitting.title}
      </h1>
      <ItemStage
        key={item.id}
        sitting={sitting}
        index={0}
        account={account}
        microphone={microphone}
        onMove={() => undefined}
        onReview={() => undefined}
        onCheck={() => setReady(false)}
        onBreak={null}
        upAtMs={sitting.timeUpAt === null ? null : Date.parse(sitting.timeUpAt)}
      />
      {arrived && <Notice>{t('Your take is on the first screen.')}</Notice>}
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      <nav aria-label={t('Items')} className="flex flex-wrap justify-between gap-3">
        {place > 0 ? goTo(place - 1) : <span />}
        {place < view.itemIds.length - 1 && goTo(place + 1)}
      </nav>
      <div className="grid gap-2 border-t border-line pt-4">
        <p className="text-sm text-soft">
          {t('The first screen goes along. Hand in there, when all is recorded.')}
        </p>
        <Button disabled={isBusy || onItsWay || closing.isLoading} onClick={() => void close()}>
          {t('I am done here')}
        </Button>
      </div>
    </div>
  );
}

/** A code from the first screen, scanned or typed, and what it leads to. */
export function PhonePage() {
  const { code } = useParams();
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const [open, opening] = useOpenPhoneMutation();
  // Without a code in the address, this phone may have an item already (a reload).
  const known = usePhoneQuery(undefined, {
    skip: code !== undefined,
    // The first screen may go to another item, or hand in.
    pollingInterval: ASK_EVERY_MS,
    skipPollingIfUnfocused: true,
  });
  const view = known.data;
  const worded = useSittingLanguage(view?.sitting.content);
  const delivered = useDeliveries().filter(d => d.state === 'delivered').length;
  const { refetch } = known;
  useTitle(view?.sitting.title ?? t('On the phone'));
  useEffect(() => {
    if (!code) return;
    void open(code)
      .unwrap()
      // The code is used up now: a reload goes on with what it opened.
      .then(
        () => navigate('/p', { replace: true }),
        () => undefined,
      );
  }, [code, navigate, open]);
  useEffect(() => {
    if (delivered > 0) void refetch();
  }, [delivered, refetch]);
  const refusal = refusalOf(opening.error);
  if ((code && !refusal) || known.isLoading) return <Loading />;
  if (view && worded)
    return <OnPhone view={view} isSentAway={refusalOf(known.error)?.code === 'handoverOver'} />;
  if (view) return <Loading />;
  if (refusal && refusal.status === 0) return <Failed error={opening.error} again={() => void open(code!)} />;
  return (
    <form
      className="grid gap-4 bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        void navigate(`/p/${typed.trim().toLowerCase()}`);
      }}
    >
      <h1 className="text-2xl">{t('Answer here')}</h1>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      <Field label={t('The code on the first screen')}>
        {ties => (
          <input
            {...ties}
            className={`${inputClass} tabular`}
            autoCapitalize="none"
            autoComplete="off"
            value={typed}
            onChange={e => setTyped(e.target.value)}
          />
        )}
      </Field>
      <Button look="main" big type="submit" disabled={!typed.trim()}>
        {t('Go on')}
      </Button>
    </form>
  );
}
