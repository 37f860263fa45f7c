import { RadioGroup } from 'radix-ui';
import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { Notice } from '../../../parts/Notice';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { usePeaks, usePositionOf, player } from '../../../parts/player/usePlayer';
import { Waveform } from '../../../parts/player/Waveform';
import { lazyPart } from '../../../parts/lazyPart';
import { desk } from '../../../parts/recorder/delivery';
import { AnswerFile, isPlayable } from '../../../parts/AnswerFile';
import { useIsPhone } from '../device/device';
import { useEndTakeMutation } from '../endpoints';
import { OwnWords } from './OwnWords';
import { counting, type OwnTake } from './takesOf';
import { TrimTake } from './TrimTake';
import { useLocalUrl } from './useLocalUrl';
import { t } from '../../../base/i18n';

const OwnEvidence = lazyPart(() => import('../../evidence/OwnEvidence'));

const SpokenSheet = lazyPart(() => import('../../../parts/ink/SpokenSheet'));

const STATUS = {
  onItsWay: () => t('on its way'),
  checking: () => t('nearly there'),
  stored: () => t('stored safely'),
  refused: () => t('does not count'),
  away: () => t('on another device, which does not send just now'),
};

function TakeLine({
  take,
  choose,
  shortestMs,
  mayHear,
  mayTrim,
  sittingId,
  measuredFor,
  isDrawn,
  overUrl,
}: {
  take: OwnTake;
  isDrawn: boolean;
  overUrl: ((takeId: string) => string | null) | null;
  measuredFor?: Item;
  sittingId?: string;
  mayTrim: boolean;
  choose: boolean;
  shortestMs: number;
  mayHear: boolean;
}) {
  const stored = take.status === 'stored';
  // On a phone that continues one item, what was recorded elsewhere is not heard.
  const isPhone = useIsPhone();
  const heard = mayHear && (!isPhone || take.local || take.source === 'phone');
  // A take that is still on this page only (a rehearsal's) has no shape from the server.
  const played = isPlayable(take.medium);
  const peaks = usePeaks(stored && played && heard && !take.local ? take.id : null, take.durationMs);
  const position = usePositionOf(take.id);
  const local = useLocalUrl(take);
  // What was brought is no take of anybody's.
  const isFile = take.fileName !== null;
  const name = isFile
    ? t('File {{number}}', { number: take.number })
    : t('Take {{number}}', { number: take.number });
  const track = { ...trackOf(take.id, name, 'student', take.durationMs), ...(local && { url: local }) };
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 py-3">
      {choose && (
        <RadioGroup.Item
          value={take.id}
          disabled={!take.stands}
          aria-label={t('{{take}} counts', { take: name })}
          className="grid size-7 shrink-0 place-items-center rounded-full border-2 border-ink disabled:opacity-30"
        >
          <RadioGroup.Indicator className="size-4 rounded-full bg-ink" />
        </RadioGroup.Item>
      )}
      {(stored || local) && played && heard && <PlayButton track={track} label={name.toLocaleLowerCase()} />}
      <span className="font-semibold">{name}</span>
      {take.source === 'phone' && <span className="text-sm text-soft">{t('from your phone')}</span>}
      <span className="tabular">{take.durationMs === null ? '' : clock(take.durationMs)}</span>
      <span className="ms-auto text-sm text-soft">
        {stored && take.local ? t('on this page only') : STATUS[take.status]()}
      </span>
      {(stored || local) && heard && (
        <div className="w-full empty:hidden">
          <AnswerFile
            takeId={take.id}
            medium={take.medium}
            fileName={take.local ? null : take.fileName}
            name={name}
          />
        </div>
      )}
      {stored && played && heard && !take.local && (
        <div className="w-full">
          <Waveform
            peaks={peaks}
            positionMs={position}
            voice="student"
            height={48}
            label={name}
            onSeek={position === null ? undefined : ms => player.seek(ms)}
          />
        </div>
      )}
      {isDrawn && (stored || local) && heard && (
        <div className="w-full">
          <SpokenSheet
            takeId={take.id}
            durationMs={take.durationMs}
            local={desk.sheet(take.id)}
            localOverUrl={overUrl?.(take.id) ?? null}
          />
        </div>
      )}
      {measuredFor && stored && played && heard && !take.local && (
        <OwnEvidence track={track} item={measuredFor} />
      )}
      {take.message && (
        <div className="w-full">
          <Notice kind="trouble" action={take.isKept ? <KeptActions take={take} /> : undefined}>
            {take.message}
          </Notice>
        </div>
      )}
      {take.status === 'away' && sittingId && <AwayTake take={take} sittingId={sittingId} />}
      {take.fate === 'standsInPart' && (
        <p className="w-full text-sm">{t('As far as it came: its device did not send the rest.')}</p>
      )}
      {take.durationMs !== null && take.durationMs < shortestMs && (
        <p className="w-full text-sm">
          {t('Shorter than the {{time}} asked for.', { time: clock(shortestMs) })}
        </p>
      )}
      {mayTrim && sittingId && stored && heard && !take.local && take.medium === 'sound' && (
        <div className="w-full">
          <TrimTake take={take} sittingId={sittingId} shortestMs={shortestMs} />
        </div>
      )}
      {sittingId && stored && !take.local && (
        <div className="w-full">
          <OwnWords take={take} sittingId={sittingId} />
        </div>
      )}
      {take.missingMs !== null && (
        <div className="w-full">
          <Notice kind="trouble">
            {t('About {{time}} of this take is missing: this device did not record it. Listen to its end.', {
              time: clock(take.missingMs),
            })}
          </Notice>
        </div>
      )}
      {take.silent && (
        <div className="w-full">
          <Notice kind="trouble">
            {take.source === 'uploaded'
              ? t('Nothing can be heard in this recording. Choose another file.')
              : t('Nothing can be heard in this take. Check that the microphone is not muted.')}
          </Notice>
        </div>
      )}
    </div>
  );
}

/** Ways out for what the server did not take. */
function KeptActions({ take }: { take: OwnTake }) {
  const url = useLocalUrl(take);
  const [sure, setSure] = useState(false);
  return (
    <span className="flex flex-wrap gap-2">
      <Button onClick={() => desk.again(take.id)}>{t('Send it again')}</Button>
      {url && (
        <a
          href={url}
          download={t('Take {{number}}', { number: take.number })}
          className="inline-flex min-h-11 items-center px-2 underline underline-offset-4"
        >
          {t('Save it on this device')}
        </a>
      )}
      <Button look="quiet" onClick={() => setSure(true)}>
        {t('Throw it away')}
      </Button>
      <Confirm
        open={sure}
        onClose={() => setSure(false)}
        title={t('Throw this recording away?')}
        yes={t('Throw it away')}
        no={t('Keep it')}
        onYes={() => void desk.discard(take.id)}
      >
        <p>{t('It is nowhere else.')}</p>
      </Confirm>
    </span>
  );
}

/** Ways out for what another device has and does not send. */
function AwayTake({ take, sittingId }: { take: OwnTake; sittingId: string }) {
  const [end, { isLoading, error }] = useEndTakeMutation();
  const refusal = refusalOf(error);
  return (
    <div className="w-full">
      <Notice
        action={
          <Button disabled={isLoading} onClick={() => void end({ sittingId, takeId: take.id })}>
            {t('Go on without the rest')}
          </Button>
        }
      >
        {t(
          'Open Ecoute where you recorded it, and it goes on its way. If that is not possible, what has come of it counts; where nothing came, you may record again.',
        )}
      </Notice>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
    </div>
  );
}

/** The takes of an item; with two or more, the student says which one counts. */
export function TakeList({
  takes,
  shortestMs = 0,
  mayHear = true,
  mayTrim = false,
  sittingId,
  measuredFor,
  isDrawn = false,
  overUrl = null,
  onChoose,
}: {
  takes: OwnTake[];
  /** Shorter than this a take is less than was asked for; it stands all the same. */
  shortestMs?: number;
  /** False while the student is to judge before hearing. */
  mayHear?: boolean;
  /** True where a take may be cut to a stretch of itself. */
  mayTrim?: boolean;
  /** Where the student may say something of a take. */
  sittingId?: string;
  /** Something was drawn with them, and over which picture of this device's. */
  isDrawn?: boolean;
  overUrl?: ((takeId: string) => string | null) | null;
  /** The item, where what is measured is seen at once. */
  measuredFor?: Item;
  onChoose?: (id: string) => void;
}) {
  if (takes.length === 0) return null;
  const choose = onChoose !== undefined && takes.filter(t => t.stands).length > 1;
  const lines = takes.map(t => (
    <TakeLine
      key={t.id}
      take={t}
      choose={choose}
      shortestMs={shortestMs}
      mayHear={mayHear}
      mayTrim={mayTrim}
      sittingId={sittingId}
      measuredFor={measuredFor}
      isDrawn={isDrawn}
      overUrl={overUrl}
    />
  ));
  if (!choose) return <div className="divide-y divide-line">{lines}</div>;
  return (
    <div>
      <p className="text-sm text-soft" id="which-take">
        {t('The marked take counts.')}
      </p>
      <RadioGroup.Root
        aria-labelledby="which-take"
        value={counting(takes)?.id ?? ''}
        onValueChange={onChoose}
        className="divide-y divide-line"
      >
        {lines}
      </RadioGroup.Root>
    </div>
  );
}
