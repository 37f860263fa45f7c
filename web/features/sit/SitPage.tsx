import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { stripOf } from '@ecoute/core/timing/strip';
import { inWords } from '@ecoute/core/timing/words';
import type { SittingView } from '@ecoute/contract/sittings';
import { useTitle } from '../../app/useTitle';
import { Button } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { player } from '../../parts/player/usePlayer';
import type { Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { Strip, StripLegend } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { DeviceCheck } from './DeviceCheck';
import { useBeginSittingMutation, useSittingQuery } from './endpoints';
import { HandInStage, ReceiptStage } from './HandIn';
import { ItemStage } from './ItemStage';
import { counting, takesOf } from './takesOf';
import { useAccount } from './useAccount';

type Stage = { at: 'directions' } | { at: 'check' } | { at: 'item'; index: number } | { at: 'handIn' };

function Sitting({ sitting }: { sitting: SittingView }) {
  const account = useAccount(sitting.id, sitting.events);
  const [stage, setStage] = useState<Stage>({ at: 'directions' });
  const [microphone, setMicrophone] = useState<Microphone | null>(null);
  const deliveries = useDeliveries();
  const { items } = sitting.content;
  const strip = stripOf(items);
  const firstOpen = Math.max(
    0,
    items.findIndex(i => counting(takesOf(i.id, sitting, deliveries)) === null),
  );
  const begun = sitting.takes.length > 0;

  const held = useRef(microphone);
  useEffect(() => {
    held.current = microphone;
  });
  useEffect(
    () => () => {
      held.current?.close();
      player.close();
    },
    [],
  );
  // Marks in the account that somebody came back to an open sitting.
  useEffect(() => {
    if (begun && !sitting.receipt) account.add('resumed');
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once a visit
  }, [sitting.id]);

  if (sitting.receipt) return <ReceiptStage sitting={sitting} receipt={sitting.receipt} />;
  switch (stage.at) {
    case 'directions':
      return (
        <section className="mx-auto grid w-full grid-cols-1 max-w-3xl gap-5 bg-sheet p-5 sm:p-8">
          {sitting.content.directions && (
            <p className="text-lg whitespace-pre-wrap">{sitting.content.directions}</p>
          )}
          <Strip items={items} />
          <StripLegend />
          <p>
            {items.length} {items.length === 1 ? 'item' : 'items'}, {inWords(strip.lengthMs)}. Due{' '}
            <strong>{when(sitting.dueAt)}</strong>
            {sitting.openness === 'lateOpen' && ', which has passed: what you hand in is flagged as late'}.
          </p>
          <Button
            look="main"
            big
            onClick={() => setStage(microphone ? { at: 'item', index: firstOpen } : { at: 'check' })}
          >
            {begun ? `Go on with item ${firstOpen + 1}` : 'Check the microphone and begin'}
          </Button>
        </section>
      );
    case 'check':
      return (
        <DeviceCheck
          forMusic={sitting.subject === 'music'}
          microphone={microphone}
          onMicrophone={setMicrophone}
          onDone={() => setStage({ at: 'item', index: firstOpen })}
        />
      );
    case 'item':
      return (
        <ItemStage
          key={items[stage.index]!.id}
          sitting={sitting}
          index={stage.index}
          account={account}
          microphone={microphone!}
          onMove={index => setStage({ at: 'item', index })}
          onReview={() => setStage({ at: 'handIn' })}
        />
      );
    case 'handIn':
      return <HandInStage sitting={sitting} onBack={index => setStage({ at: 'item', index })} />;
  }
}

function Loaded({ id }: { id: string }) {
  const { data, error, isLoading, refetch } = useSittingQuery(id);
  const delivered = useDeliveries().filter(
    d => d.sound.place.sittingId === id && d.state === 'delivered',
  ).length;
  useTitle(data?.title ?? 'Sitting');
  // Each take that has arrived renews what the server says of the sitting.
  useEffect(() => {
    if (delivered > 0) void refetch();
  }, [delivered, refetch]);
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return (
    <div className="grid grid-cols-1 gap-4">
      <div>
        <p className="text-sm text-soft">
          <Link to="/" className="underline underline-offset-4">
            To do
          </Link>{' '}
          · {data.className}
        </p>
        <h1 className="text-2xl sm:text-3xl">{data.title}</h1>
      </div>
      <Sitting sitting={data} />
    </div>
  );
}

/** Begins (or goes on with) the sitting of a release. */
export function SitPage() {
  const { id = '' } = useParams();
  const [begin, { data, error, isLoading, isUninitialized }] = useBeginSittingMutation();
  const asked = useRef<string | null>(null);
  useEffect(() => {
    if (asked.current === id) return;
    asked.current = id;
    void begin(id);
  }, [begin, id]);
  if (isLoading || isUninitialized) return <Loading />;
  if (!data)
    return error && 'code' in error && error.code === 'closed' ? (
      <Notice kind="trouble">{error.message}</Notice>
    ) : (
      <Failed error={error} again={() => void begin(id)} />
    );
  return <Loaded id={data.id} />;
}
