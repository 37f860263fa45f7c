import { useEffect, useState } from 'react';
import { Outlet, useNavigate, useParams } from 'react-router';
import type { PhoneView } from '@ecoute/contract/handovers';
import type { Me } from '@ecoute/contract/people';
import { refusalOf } from '../../base/api';
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
import { useClosePhoneMutation, useOpenItemMutation, usePhoneQuery } from './endpoints';

/** Signed in as nobody: what is kept here until it has arrived is kept under this name. */
const PHONE: Me = { id: 'phone', displayName: '', role: 'student', isGuest: false };
const ON_PHONE: Where = { kind: 'phone' };

/** The frame of a phone that continues one item: a name at the top, and nothing that leads elsewhere. */
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

/** The one item, from the microphone to the take that appears on the first screen. */
function OneItem({ view }: { view: PhoneView }) {
  const { sitting } = view;
  const [microphone, setMicrophone] = useState<Microphone | null>(null);
  const [ready, setReady] = useState(false);
  const account = useAccount(sitting.id, sitting.events);
  const deliveries = useDeliveries();
  const [close, closing] = useClosePhoneMutation();
  const item = sitting.content.items[0]!;
  const takes = takesOf(item.id, sitting, deliveries);
  const arrived = takes.some(take => take.status === 'stored' && take.source === 'phone');
  const onItsWay = takes.some(take => take.status === 'onItsWay' || take.status === 'checking');
  useEffect(
    () => () => {
      microphone?.close();
      player.close();
    },
    [microphone],
  );
  if (closing.isSuccess)
    return (
      <section className="grid gap-3 bg-sheet p-5">
        <h1 className="text-2xl">{t('Done here')}</h1>
        <p>{t('Your take is on the first screen. Go on there; this page can be closed.')}</p>
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
      {arrived && (
        <Notice
          action={
            <Button look="main" disabled={onItsWay || closing.isLoading} onClick={() => void close()}>
              {t('I am done here')}
            </Button>
          }
        >
          {t('Your take is on the first screen.')}
        </Notice>
      )}
    </div>
  );
}

/** A code from the first screen, scanned or typed, and the item it stands for. */
export function PhonePage() {
  const { code } = useParams();
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const [open, opening] = useOpenItemMutation();
  // Without a code in the address, this phone may have an item already (a reload).
  const known = usePhoneQuery(undefined, { skip: code !== undefined });
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
  if (view && worded) return <OneItem view={view} />;
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
      <h1 className="text-2xl">{t('Answer one item here')}</h1>
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
