import { ExternalLink, Maximize2 } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { lazy, Suspense, useEffect, useState } from 'react';
import { directionOf } from '@ecoute/core/formats/languages';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { loadScript } from '../../base/scripts/loadScript';
import { Button } from '../Button';
import { Loading } from '../Loading';
import { useDetails } from './useDetails';
import { t } from '../../base/i18n';

const Notation = lazy(() => import('./Notation').then(m => ({ default: m.Notation })));

/** A picture in its place, and as large as the screen when it is touched. */
function Picture({ src, words }: { src: string; words: string }) {
  return (
    <Dialog.Root>
      <Dialog.Trigger
        className="group relative block max-w-full text-start"
        aria-label={t('Enlarge: {{what}}', { what: words || t('Picture') })}
      >
        <img
          src={src}
          alt={words}
          loading="lazy"
          className="max-h-[min(30rem,calc(var(--stage-room,40rem)*0.75))] max-w-full bg-[#fff]"
        />
        <span className="absolute end-2 bottom-2 grid size-9 place-items-center border-2 border-edge bg-sheet opacity-80 group-hover:opacity-100">
          <Maximize2 aria-hidden className="size-4" />
        </span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131be0]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-2 z-50 grid grid-rows-[auto_minmax(0,1fr)] gap-2 sm:inset-6"
        >
          <Dialog.Title className="sr-only">{words || t('Picture')}</Dialog.Title>
          <Dialog.Close asChild>
            <Button className="justify-self-end">{t('Close')}</Button>
          </Dialog.Close>
          {/* Scrolls and can be pinched where the picture is larger than the screen. */}
          <div className="overflow-auto" tabIndex={0} role="group" aria-label={words || t('Picture')}>
            <img src={src} alt={words} className="mx-auto max-w-full bg-[#fff]" />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Pages({ stimulus }: { stimulus: Stimulus }) {
  const details = useDetails(stimulus.recordingId);
  const [at, setAt] = useState(1);
  const count = details?.pages ?? 1;
  const page = stimulus.page || Math.min(at, count);
  const words = details?.pageTexts?.[page - 1] || stimulus.words || t('Page {{number}}', { number: page });
  return (
    <div className="grid grid-cols-1 gap-2">
      {page <= (details?.pagesReady ?? 0) ? (
        <Picture src={`/api/recordings/${stimulus.recordingId}/shown?page=${page}`} words={words} />
      ) : (
        <Loading rows={1} height={200} />
      )}
      {stimulus.page === 0 && count > 1 && (
        <div className="flex items-center gap-3">
          <Button disabled={page === 1} onClick={() => setAt(page - 1)}>
            {t('Page before')}
          </Button>
          <span className="tabular" aria-live="polite">
            {page} / {count}
          </span>
          <Button disabled={page === count} onClick={() => setAt(page + 1)}>
            {t('Next page')}
          </Button>
        </div>
      )}
    </div>
  );
}

function Passage({ stimulus, isOnStage }: { stimulus: Stimulus; isOnStage: boolean }) {
  useEffect(() => loadScript(stimulus.language), [stimulus.language]);
  return (
    <figure dir={directionOf(stimulus.language)} className="border-s-4 border-line ps-4">
      {stimulus.words && <figcaption className="mb-1 text-sm text-soft">{stimulus.words}</figcaption>}
      <div
        lang={stimulus.language || undefined}
        className={`font-passage whitespace-pre-wrap ${isOnStage ? 'max-w-3xl text-[length:calc(1.125rem*var(--reading,1))] leading-normal sm:text-[length:calc(1.375rem*var(--reading,1))]' : 'text-[length:calc(1.25rem*var(--reading,1))] leading-loose'}`}
      >
        {stimulus.text}
      </div>
    </figure>
  );
}

/** One thing to look at or read, as students and teachers see it. */
export function StimulusView({
  stimulus,
  isOnStage = false,
}: {
  stimulus: Stimulus;
  /** It fills the screen of somebody who reads or plays from it. */
  isOnStage?: boolean;
}) {
  switch (stimulus.kind) {
    case 'picture':
      return stimulus.recordingId ? (
        <Picture src={`/api/recordings/${stimulus.recordingId}/shown`} words={stimulus.words} />
      ) : null;
    case 'pages':
      return stimulus.recordingId ? <Pages stimulus={stimulus} /> : null;
    case 'notation':
      return stimulus.recordingId ? (
        <Suspense fallback={<Loading rows={1} height={160} />}>
          <Notation stimulus={stimulus} />
        </Suspense>
      ) : null;
    case 'passage':
      return <Passage stimulus={stimulus} isOnStage={isOnStage} />;
    case 'link':
      return (
        <p>
          <a
            href={stimulus.url}
            target="_blank"
            rel="noreferrer"
            className="inline-flex min-h-11 items-center gap-2 font-semibold underline underline-offset-4"
          >
            <ExternalLink aria-hidden className="size-5" /> {stimulus.words || stimulus.url}
            <span className="sr-only"> {t('(opens in another tab)')}</span>
          </a>
        </p>
      );
  }
}

/** Everything to look at with directions or a prompt. */
export function Stimuli({
  stimuli,
  isOnStage = false,
}: {
  stimuli: readonly Stimulus[];
  isOnStage?: boolean;
}) {
  if (stimuli.length === 0) return null;
  return (
    <div className={`grid grid-cols-1 gap-4 ${isOnStage ? '' : 'mt-4'}`}>
      {stimuli.map(s => (
        <StimulusView key={s.id} stimulus={s} isOnStage={isOnStage} />
      ))}
    </div>
  );
}
