import { ArrowRight, Hourglass } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { leftOf } from '@ecoute/core/timing/itemRun';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import type { TurnsView, TurnView } from '@ecoute/contract/together';
import { refusalOf } from '../../../base/api';
import { t } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { PromptVoice } from '../../../parts/PromptWords';
import { desk } from '../../../parts/recorder/delivery';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { useVoiceMessage } from '../../../parts/recorder/useVoiceMessage';
import { VoiceControls } from '../../../parts/recorder/VoiceControls';
import type { Frame } from '../answers/frame';
import { LeavingAsks } from '../answers/LeavingAsks';
import { useChooseTakeMutation } from '../endpoints';
import { TakeList } from '../takes/TakeList';
import { takesOf } from '../takes/takesOf';
import {
  useBeginTurnsMutation,
  useCompanionsQuery,
  useEndTurnsMutation,
  useGiveTurnMutation,
  useTurnsQuery,
} from './endpoints';
import { People } from './People';

/** Others speak on other devices: what they have said is looked for also where no word of it comes. */
const LOOK_MS = 20_000;

/** Chooses who speaks, and in which order; then it begins. */
function Beginning({ sitting, item }: { sitting: SittingView; item: Item }) {
  const { data, error, isLoading, refetch } = useCompanionsQuery(sitting.id, { pollingInterval: LOOK_MS });
  const [begin, beginning] = useBeginTurnsMutation();
  const [chosen, setChosen] = useState<string[]>([]);
  const id = useRef(crypto.randomUUID());
  const refusal = refusalOf(beginning.error);
  if (isLoading) return <Loading height={64} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const names = chosen.map(c => data.find(d => d.id === c)?.displayName ?? '');
  return (
    <div className="grid grid-cols-1 gap-3 bg-sunk p-4">
      <p>
        {t(
          'You speak one after the other, each on your own device: {{n}} times each, up to {{limit}} at a time.',
          {
            n: item.together!.turnsEach,
            limit: clock(item.answerLimitMs),
          },
        )}
      </p>
      {data.length === 0 ? (
        <p className="text-soft">{t('Nobody else is here yet with whom you could speak.')}</p>
      ) : (
        <>
          <People
            label={t(
              'Who speaks with you? You begin, the others follow in the order in which you tick them.',
            )}
            companions={data}
            chosen={chosen}
            most={item.together!.most - 1}
            onChange={setChosen}
          />
          {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
          <div>
            <Button
              look="main"
              disabled={chosen.length === 0 || beginning.isLoading}
              onClick={() =>
                void begin({
                  sittingId: sitting.id,
                  wanted: { id: id.current, itemId: item.id, personIds: chosen },
                })
                  .unwrap()
                  .then(
                    () => (id.current = crypto.randomUUID()),
                    () => undefined,
                  )
              }
            >
              {names.length > 0 ? t('Begin with {{names}}', { names: names.join(', ') }) : t('Begin')}
            </Button>
          </div>
        </>
      )}
      <p className="text-sm text-soft">{t('If somebody begins with you, it appears here automatically.')}</p>
    </div>
  );
}

/** One turn in its row: whose it is, and to be heard. */
function TurnRow({ turn, isNext, number }: { turn: TurnView; isNext: boolean; number: number }) {
  const name = turn.isMine ? t('You') : turn.displayName;
  return (
    <li className={`flex min-h-14 items-center gap-3 px-3 py-1 ${isNext ? 'bg-petrol-wash' : 'bg-sheet'}`}>
      <span className="tabular w-6 text-end text-soft">{number}</span>
      <span dir="auto" className="min-w-0 flex-1 font-semibold">
        {name}
      </span>
      {turn.recordingId && turn.state === 'stored' ? (
        <PlayButton
          track={trackOf(turn.recordingId, name, 'student', turn.durationMs)}
          label={t('turn {{n}}, {{name}}', { n: number, name })}
          text={turn.durationMs === null ? undefined : clock(turn.durationMs)}
        />
      ) : turn.recordingId ? (
        <span className="text-sm text-soft">{t('on its way')}</span>
      ) : (
        isNext && !turn.isMine && <span className="text-sm font-semibold">{t('speaks now')}</span>
      )}
    </li>
  );
}

/** A run of turns that goes on: what was said, and one's own turn. */
function Run({
  run,
  item,
  place,
  onRunning,
}: {
  run: TurnsView;
  item: Item;
  /** Under which turns of this answer are kept on this device. */
  place: string;
  onRunning: (is: boolean) => void;
}) {
  const voice = useVoiceMessage(item.answerLimitMs, { aside: place });
  const [give, giving] = useGiveTurnMutation();
  const [end, ending] = useEndTurnsMutation();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const deliveries = useDeliveries();
  const next = run.next === null ? null : run.turns[run.next];
  const after = run.next === null ? undefined : run.turns[run.next + 1];
  const isUnderWay = deliveries.some(
    d => d.sound.place.itemId === place && !['delivered', 'kept'].includes(d.state),
  );
  const spoken = run.turns.filter(turn => turn.recordingId);
  const isRunning = voice.running !== null;
  useEffect(() => onRunning(isRunning), [isRunning, onRunning]);
  const giveOn = async () => {
    const { message } = voice;
    if (!message || run.next === null) return;
    setTrouble(null);
    const turn = { recordingId: message.id, mediaType: message.mediaType, number: run.next };
    try {
      await voice.send(
        { url: `/api/together/${run.id}/turns`, body: { ...turn } },
        () => give({ jointId: run.id, turn }).unwrap(),
        { itemId: place },
      );
    } catch (error) {
      setTrouble(
        refusalOf(error)?.message ?? t('This could not be sent just now. It is still here; send it again.'),
      );
    }
  };
  return (
    <div className="grid grid-cols-1 gap-4">
      <ol aria-label={t('Turns')} className="grid gap-px bg-line">
        {run.turns.map((turn, i) => (
          <TurnRow key={turn.number} turn={turn} number={i + 1} isNext={turn.number === run.next} />
        ))}
      </ol>
      {run.isOver && !run.isJoined && (
        <Notice>{t('All turns are spoken. They become one recording in a moment.')}</Notice>
      )}
      {next && (!run.isMyTurn || isUnderWay) && (
        <p className="flex items-center gap-2">
          <Hourglass aria-hidden className="size-5 shrink-0" />
          {isUnderWay
            ? t('Your turn is on its way. Without a network it is kept on this device until it goes.')
            : next.isMine
              ? t('The turn before is still on its way.')
              : t(
                  'It is the turn of {{name}}. What they say appears here automatically; you can come back later.',
                  { name: next.displayName },
                )}
        </p>
      )}
      {run.isMyTurn && !isUnderWay && (
        <div className="grid grid-cols-1 gap-3 border-2 border-petrol p-4">
          <p className="text-lg font-semibold">{t('It is your turn.')}</p>
          <VoiceControls
            voice={voice}
            limitMs={item.answerLimitMs}
            title={t('Your turn')}
            label={t('your turn')}
            isMain
            isSent={false}
            mayDrop={false}
          >
            {voice.message && (
              <Button look="main" disabled={giving.isLoading} onClick={() => void giveOn()}>
                {after && !after.isMine
                  ? t('Give it on to {{name}}', { name: after.displayName })
                  : t('Put it in')}{' '}
                <ArrowRight aria-hidden className="size-5 rtl:-scale-x-100" />
              </Button>
            )}
          </VoiceControls>
          {(trouble ?? voice.trouble) && <Notice kind="trouble">{t((trouble ?? voice.trouble)!)}</Notice>}
        </div>
      )}
      {isRunning && <LeavingAsks running="recording" />}
      {!run.isOver && !isRunning && (
        <div>
          <Button look="quiet" disabled={ending.isLoading} onClick={() => setAsking(true)}>
            {spoken.length === 0 ? t('Leave these turns …') : t('End here with what there is …')}
          </Button>
        </div>
      )}
      <Confirm
        open={asking}
        onClose={() => setAsking(false)}
        title={spoken.length === 0 ? t('Leave these turns?') : t('End here?')}
        yes={spoken.length === 0 ? t('Leave them') : t('End here')}
        no={t('Go on')}
        onYes={() => void end(run.id)}
      >
        <p>
          {spoken.length === 0
            ? t('Nobody has spoken yet. You can begin again, also with others.')
            : t(
                'Nobody speaks any more. What was said until now becomes one recording, and the answer of {{names}}.',
                {
                  names: run.names.join(', '),
                },
              )}
        </p>
      </Confirm>
    </div>
  );
}

/** Turns that were recorded and are in no run: those that the server did not take, and those of a run that ended without them. */
function LeftOver({ place, mayGoOn }: { place: string; mayGoOn: boolean }) {
  const [dropping, setDropping] = useState<string | null>(null);
  const left = useDeliveries().filter(
    d =>
      (d.state === 'kept' && d.sound.place.itemId === place) ||
      (d.state === 'aside' && d.sound.aside === place && !mayGoOn),
  );
  return (
    <>
      {left.map(d => (
        <Notice
          key={d.sound.id}
          kind={d.state === 'kept' ? 'trouble' : 'note'}
          action={<Button onClick={() => setDropping(d.sound.id)}>{t('Throw it away')}</Button>}
        >
          {d.state === 'aside'
            ? t('You recorded a turn and did not give it on. It waits for your next turn, also with others.')
            : `${t('A turn that you recorded did not go in:')} ${d.message ? t(d.message) : ''}`}
        </Notice>
      ))}
      <Confirm
        isGrave
        open={dropping !== null}
        onClose={() => setDropping(null)}
        title={t('Throw this recording away?')}
        yes={t('Throw it away')}
        no={t('Keep it')}
        onYes={() => dropping && void desk.discard(dropping)}
      >
        <p>{t('It is nowhere else.')}</p>
      </Confirm>
    </>
  );
}

/** An answer that some people speak in turns, each on their own device. */
export default function TurnsAnswer({
  sitting,
  item,
  frame,
  judging,
}: {
  sitting: SittingView;
  item: Item;
  frame: Frame;
  judging: ReactNode;
}): ReactNode {
  const { data, error, isLoading, refetch } = useTurnsQuery(sitting.id, { pollingInterval: LOOK_MS });
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const [isRunning, setRunning] = useState(false);
  const takes = takesOf(item.id, sitting, deliveries);
  const runs = (data ?? []).filter(r => r.itemId === item.id);
  const run = runs.find(r => !r.isJoined) ?? null;
  const left = leftOf(item.takesAllowed, takes.filter(take => take.stands).length);
  const place = `turn of ${item.id} in ${sitting.id}`;
  return frame({
    phase: 'written',
    says: t('What to do now'),
    busy: false,
    isRecording: isRunning,
    done: takes.some(take => take.stands) && run === null,
    position: 0,
    under: <PromptVoice item={item} text={t('Hear the prompt')} />,
    answer: (
      <>
        {isLoading && <Loading height={64} />}
        {!isLoading && !data && <Failed error={error} again={() => void refetch()} />}
        <LeftOver place={place} mayGoOn={run !== null} />
        {data && run && <Run key={run.id} run={run} item={item} place={place} onRunning={setRunning} />}
        {takes.length > 0 && (
          <TakeList
            takes={takes}
            shortestMs={0}
            isDrawn={false}
            mayHear
            mayTrim={false}
            sittingId={sitting.id}
            onChoose={id => void choose({ sittingId: sitting.id, takeId: id })}
          />
        )}
        {takes.length > 0 && judging}
        {data && !run && left > 0 && (
          <>
            {takes.length > 0 && <h3 className="mt-2 font-semibold">{t('Speak in turns once more')}</h3>}
            <Beginning sitting={sitting} item={item} />
          </>
        )}
      </>
    ),
  });
}
