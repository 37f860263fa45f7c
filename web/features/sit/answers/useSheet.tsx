import { ImagePlus } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { drawnOn } from '@ecoute/contract/ink';
import { t } from '../../../base/i18n';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { lazyPart } from '../../../parts/lazyPart';
import { Notice } from '../../../parts/Notice';
import { useIsPhone } from '../device/device';
import { useRehearsal } from '../rehearsal/rehearsal';
import { bringPicture, isPictureFile } from '../takes/ownPicture';
import type { useItemRun } from './useItemRun';

const loadBoard = () => import('../../../parts/ink/InkBoard');
const InkBoard = lazyPart(loadBoard);

/** What is drawn on while an answer is spoken: before it, a picture of one's own to choose; while it runs, the sheet. */
export function useSheet(
  item: Item,
  run: ReturnType<typeof useItemRun>,
): {
  board: ReactNode;
  before: ReactNode;
  /** The picture of this device's that a take was drawn on; null where the server has it, or there is none. */
  overUrlOf: (takeId: string) => string | null;
} {
  const me = useMe();
  const rehearsal = useRehearsal();
  const isPhone = useIsPhone();
  const [own, setOwn] = useState<{ file: File; url: string } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const takeId = run.take?.id ?? null;
  const over = drawnOn(item);
  const teachersUrl = over && `/api/recordings/${over}/shown`;
  const isDrawn = item.answerBy === 'audio' && !item.isConversation && Boolean(item.sheet);
  // Here before it is needed: it must not be waited for while one speaks.
  useEffect(() => {
    if (isDrawn)
      void Promise.all([loadBoard(), import('../../../parts/ink/SpokenSheet')]).catch(() => undefined);
  }, [isDrawn]);
  // Each take has the picture that it was drawn on, also when another one is chosen for the next.
  const urls = useRef(new Map<string, string>());
  const chosen = useRef(new Set<string>());
  useEffect(() => {
    const made = chosen.current;
    return () => made.forEach(url => URL.revokeObjectURL(url));
  }, []);
  useEffect(() => {
    if (!takeId || !own) return;
    urls.current.set(takeId, own.url);
    if (rehearsal) return;
    bringPicture(takeId, me.id, own.file).catch(() =>
      setTrouble(t('This device could not keep the picture. Free some space, then try again.')),
    );
  }, [me.id, own, rehearsal, takeId]);
  const overUrlOf = (id: string) => urls.current.get(id) ?? teachersUrl;
  if (!isDrawn) return { board: null, before: null, overUrlOf };
  return {
    overUrlOf,
    board: takeId !== null && (
      <InkBoard
        key={takeId}
        takeId={takeId}
        overId={over}
        overUrl={own?.url ?? null}
        recordedMs={run.recordedNowMs}
        isHeld={run.state.phase === 'paused'}
      />
    ),
    // A phone that records for another screen is signed in as nobody, and brings no pictures.
    before: takeId === null && item.sheet === 'own' && !isPhone && (
      <div className="grid grid-cols-1 justify-items-start gap-2">
        {own && <img src={own.url} alt={t('Your picture')} className="max-h-60 max-w-full bg-[#fff]" />}
        {trouble && <Notice kind="trouble">{trouble}</Notice>}
        <Button onClick={() => input.current?.click()}>
          <ImagePlus aria-hidden className="size-5" />{' '}
          {own ? t('Another picture') : t('A picture of your own to draw on')}
        </Button>
        <input
          ref={input}
          type="file"
          aria-hidden
          accept="image/*"
          aria-label={t('A picture of your own to draw on')}
          className="sr-only"
          tabIndex={-1}
          onChange={event => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (!file) return;
            if (!isPictureFile(file))
              return setTrouble(t('That is not a picture. Choose a photograph or a drawing.'));
            setTrouble(null);
            const url = URL.createObjectURL(file);
            chosen.current.add(url);
            setOwn({ file, url });
          }}
        />
      </div>
    ),
  };
}
