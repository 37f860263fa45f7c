import { CornerDownRight, EyeOff, Hourglass, Pencil, Reply, Undo2 } from 'lucide-react';
import { memo, useEffect, useRef, useState, type ReactNode } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Film } from '../../parts/player/Film';
import { PlayButton } from '../../parts/player/PlayButton';
import { player, playFrom, usePeaks, usePlayed, usePositionOf } from '../../parts/player/usePlayer';
import { Waveform } from '../../parts/player/Waveform';
import { when } from '../../parts/when';
import { BesidePicture } from './BesidePicture';
import { isHearable, nameOf, trackOfContribution, whomOf, type Spoken } from './said';
import { inTurn } from '../../parts/player/inTurn';

/** Replies deeper than this lie under each other: a phone has no more room. */
const DEEPEST = 3;
/** A moment that is replied to begins so long before it was pressed, in ms. */
const MOMENT_MS = 6_000;
/** Words that are in sight for so long have been read. In ms. */
const READ_MS = 2_000;

/** What one can do with a contribution; what is left out is not for whoever looks. */
export interface RowActs {
  reply?: (c: Spoken, moment?: { fromMs: number; toMs: number }) => void;
  correct?: (c: Spoken) => void;
  takeBack?: (c: Spoken) => void;
  /** What only a teacher does. */
  more?: (c: Spoken) => ReactNode;
  /** It was read: only words are in it. */
  read: (ids: string[]) => void;
}

/** A moment of what plays: replied to, its stretch is heard with the reply. */
function ReplyToMoment({ said, reply }: { said: Spoken; reply: NonNullable<RowActs['reply']> }) {
  const begun = usePlayed(
    ({ track, positionMs }) => track?.id === said.voiceId && positionMs > 1_000 && said.durationMs !== null,
  );
  if (!begun) return null;
  return (
    <Button
      look="quiet"
      onClick={() => {
        const toMs = Math.round(Math.min(player.now().positionMs, said.durationMs!));
        player.pause();
        reply(said, { fromMs: Math.max(0, toMs - MOMENT_MS), toMs });
      }}
    >
      <Reply aria-hidden className="size-5" /> {t('Reply to this moment')}
    </Button>
  );
}

/** One contribution where it belongs in its thread. */
export const ContributionRow = memo(function ContributionRow({
  said,
  depth,
  to,
  acts,
  children,
}: {
  said: Spoken;
  depth: number;
  /** What it replies to. */
  to: Spoken | null;
  acts: RowActs;
  /** What is being said to it. */
  children?: ReactNode;
}) {
  const isPresent = usePlayed(({ track }) => track !== null && track.id === said.voiceId);
  const position = usePositionOf(isPresent ? said.voiceId : null);
  const peaks = usePeaks(isPresent && isHearable(said) ? said.voiceId : null, said.durationMs);
  const row = useRef<HTMLLIElement>(null);
  const [earlier, setEarlier] = useState(false);
  const isGone = said.state === 'takenBack' || (said.state === 'hidden' && !said.voiceId && !said.words);
  const name = nameOf(said);
  const isNew = !said.heard && said.state !== 'coming';
  // Words alone are read, not heard.
  const isRead = said.voiceId === null && !said.heard && !isGone;
  const { read } = acts;
  useEffect(() => {
    const box = row.current;
    if (!isRead || !box) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const watcher = new IntersectionObserver(([seen]) => {
      clearTimeout(timer);
      if (seen?.isIntersecting) timer = setTimeout(() => read([said.id]), READ_MS);
    });
    watcher.observe(box);
    return () => {
      watcher.disconnect();
      clearTimeout(timer);
    };
  }, [isRead, read, said.id]);
  // Hands free: what sounds is what is in sight.
  useEffect(() => {
    if (isPresent && inTurn.now()) row.current?.scrollIntoView({ block: 'nearest' });
  }, [isPresent]);
  const inset = Math.min(depth, DEEPEST);
  if (isGone)
    return (
      <li
        className="bg-sheet px-3 py-2 text-sm text-soft sm:px-4"
        style={{ marginInlineStart: `${inset}rem` }}
      >
        {said.state === 'takenBack' ? t('Taken back by whoever said it.') : t('Hidden by the teacher.')}
        {children}
      </li>
    );
  return (
    <li
      ref={row}
      aria-label={name}
      aria-current={isPresent || undefined}
      data-contribution={said.id}
      className={`grid scroll-my-28 gap-2 bg-sheet px-3 py-2 sm:px-4 ${isPresent ? 'outline-2 -outline-offset-2 outline-ink' : ''}`}
      style={{ marginInlineStart: `${inset}rem` }}
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {isHearable(said) && <PlayButton track={trackOfContribution(said)} label={name} />}
        <span className="min-w-0 flex-1 basis-32">
          <span dir="auto" className="font-semibold">
            {name}
          </span>{' '}
          {said.isTeacher && <span className="text-sm text-saffron-ink">{t('teacher')}</span>}{' '}
          {isNew && <span className="bg-ink px-1.5 text-sm font-semibold text-sheet">{t('new')}</span>}
          <span className="block text-sm text-soft">
            {when(said.at)}
            {said.durationMs !== null && said.voiceId && (
              <span className="tabular"> · {clock(said.durationMs)}</span>
            )}
          </span>
        </span>
        {said.state === 'coming' && <span className="text-sm">{t('its sound is on its way')}</span>}
        {said.state === 'waiting' && (
          <span className="inline-flex items-center gap-1 text-sm">
            <Hourglass aria-hidden className="size-4" />
            {said.isMine ? t('waits until your teacher has heard it') : t('waits for you')}
          </span>
        )}
      </div>
      {to && said.fromMs !== null && said.toMs !== null && (
        <p className="text-sm">
          <button
            type="button"
            disabled={!isHearable(to)}
            onClick={() =>
              inTurn.begin(nameOf(to), [
                { ...trackOfContribution(to), stretch: { fromMs: said.fromMs!, toMs: said.toMs! } },
              ])
            }
            className="inline-flex min-h-9 items-center gap-1 text-start underline underline-offset-4"
          >
            <CornerDownRight aria-hidden className="size-4" />
            {t('to {{whom}}, {{from}}–{{until}}', {
              whom: whomOf(to),
              from: clock(said.fromMs),
              until: clock(said.toMs),
            })}
          </button>
        </p>
      )}
      {said.state === 'hidden' && (
        <p className="inline-flex items-start gap-1 text-sm">
          <EyeOff aria-hidden className="mt-0.5 size-4 shrink-0" />
          <span dir="auto">{t('Hidden from the others: {{why}}', { why: said.hiddenFor ?? '' })}</span>
        </p>
      )}
      {isPresent && said.medium === 'video' && <Film id={said.voiceId!} label={name} />}
      {isPresent && peaks && (
        <Waveform
          peaks={peaks}
          positionMs={position}
          voice={said.isTeacher ? 'teacher' : 'student'}
          height={48}
          label={name}
          onSeek={ms => playFrom(trackOfContribution(said), ms)}
        />
      )}
      {said.title && (
        <p dir="auto" className="font-semibold">
          {said.title}
        </p>
      )}
      {said.words && (
        <p dir="auto" className="font-passage whitespace-pre-wrap [overflow-wrap:anywhere]">
          {said.words}
        </p>
      )}
      {said.pictureId && <BesidePicture id={said.pictureId} title={said.title} />}
      {said.earlier.length > 0 && (
        <div className="grid gap-1 text-sm">
          <button
            type="button"
            aria-expanded={earlier}
            onClick={() => setEarlier(!earlier)}
            className="min-h-9 justify-self-start underline underline-offset-4"
          >
            {t('Corrected; what was said before')}
          </button>
          {earlier &&
            said.earlier.map(e => (
              <div key={e.id} className="flex flex-wrap items-center gap-3 border-s-4 border-line ps-3">
                {e.voiceId && (
                  <PlayButton
                    track={{
                      ...trackOfContribution(said),
                      id: e.voiceId,
                      url: `/api/recordings/${e.voiceId}/sound`,
                      durationMs: e.durationMs,
                    }}
                    label={t('what {{who}} said before', { who: name })}
                    text={e.durationMs === null ? undefined : clock(e.durationMs)}
                  />
                )}
                {e.words && (
                  <span dir="auto" className="font-passage">
                    {e.words}
                  </span>
                )}
              </div>
            ))}
        </div>
      )}
      <div className="-my-1 flex flex-wrap items-center empty:hidden">
        {acts.reply && said.state === 'here' && (
          <Button look="quiet" className="!px-2" onClick={() => acts.reply!(said)}>
            <Reply aria-hidden className="size-5" /> {t('Reply')}
            <span className="sr-only">{t('to {{whom}}', { whom: name })}</span>
          </Button>
        )}
        {acts.reply && said.state === 'here' && isPresent && <ReplyToMoment said={said} reply={acts.reply} />}
        {said.isMine && acts.correct && said.state !== 'hidden' && (
          <Button look="quiet" className="!px-2" onClick={() => acts.correct!(said)}>
            <Pencil aria-hidden className="size-5" /> {t('Correct it')}
          </Button>
        )}
        {said.isMine && acts.takeBack && (said.mayTakeBack || said.isTeacher) && (
          <Button look="quiet" className="!px-2" onClick={() => acts.takeBack!(said)}>
            <Undo2 aria-hidden className="size-5" /> {t('Take it back')}
          </Button>
        )}
        {acts.more?.(said)}
      </div>
      {children}
    </li>
  );
});
