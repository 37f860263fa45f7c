import { ImagePlus, Mic, Send, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { t } from '../../../base/i18n';
import { deviceShelf } from '../../../base/kept/shelf';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { Film } from '../../../parts/player/Film';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { desk } from '../../../parts/recorder/delivery';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { bringPicture, isPictureFile } from '../../sit/takes/ownPicture';
import { BesidePicture } from '../BesidePicture';
import { useTakeContributionBackMutation } from '../endpoints';
import type { DraftSaid } from './drafts';
import type { SpeaksBy } from './Speak';
import { puttingIn } from './usePuttingIn';

interface Typed {
  title: string;
  words: string;
}

/** Something recorded that is not in the discussion yet: it is heard, given words and a picture, and put in or thrown away. */
export function Draft({
  draft,
  by: { door, releaseId },
  pictureAllowed,
  label,
  onAgain,
}: {
  draft: DraftSaid;
  by: SpeaksBy;
  pictureAllowed: boolean;
  /** What it is, in a few words. */
  label: string;
  /** Records it once more in the same place. */
  onAgain: () => void;
}) {
  const { id, place, delivery, contribution, going } = draft;
  const me = useMe();
  const shelf = useMemo(() => deviceShelf<Typed>(`said ${id}`), [id]);
  const [typed, setTyped] = useState<Typed>(
    () =>
      shelf.get()?.value ?? {
        title: going?.said.title ?? '',
        words: going?.said.words ?? '',
      },
  );
  const [trouble, setTrouble] = useState<string | null>(null);
  const [asks, setAsks] = useState(false);
  const [takeBack] = useTakeContributionBackMutation();
  const file = useRef<HTMLInputElement>(null);
  const picture = useDeliveries().find(d => d.sound.place.itemId === `picture of ${id}`);
  const isSpoken = delivery !== null || contribution?.voiceId != null || (going?.said.isSpoken ?? false);
  const [url, setUrl] = useState<string | null>(null);
  const isHere = delivery !== null && delivery.state !== 'delivered';
  useEffect(() => {
    const blob = isHere ? desk.blob(id) : null;
    if (!blob) return;
    const made = URL.createObjectURL(blob);
    setUrl(made);
    return () => {
      URL.revokeObjectURL(made);
      setUrl(null);
    };
  }, [id, isHere]);
  const change = (next: Partial<Typed>) => {
    const now = { ...typed, ...next };
    setTyped(now);
    shelf.put({ value: now, revision: 0 });
  };
  const putIn = () => {
    setTrouble(null);
    puttingIn.add({ door, releaseId, id, said: { place, ...typed, isSpoken } });
    shelf.put(null);
  };
  const throwAway = async () => {
    puttingIn.letGo(id);
    shelf.put(null);
    const isKnown = contribution !== null;
    if (delivery) await desk.discard(id);
    if (!isKnown && delivery?.state !== 'delivered') return;
    await takeBack({ door, releaseId, id })
      .unwrap()
      .catch((error: unknown) =>
        setTrouble(refusalOf(error)?.message ?? t('Ecoute did not answer. It is still here: try again.')),
      );
  };
  const problem =
    (delivery?.state === 'kept' ? (delivery.recording?.message ?? delivery.message) : null) ??
    delivery?.recording?.message ??
    (contribution?.voiceState === 'refused' ? (contribution.problem ?? '') : null);
  const isRefused = contribution?.voiceState === 'refused' || delivery?.recording?.state === 'refused';
  const isOnItsWay = going !== null && !going.refusal && !going.isHeld;
  const durationMs = contribution?.durationMs ?? delivery?.recording?.durationMs ?? null;
  const isFilm = (delivery?.sound.mediaType ?? contribution?.medium ?? '').startsWith('video');
  const shownPicture =
    picture?.state === 'delivered' ? picture.sound.id : picture ? null : (contribution?.pictureId ?? null);
  const track = {
    ...trackOf(id, label, me.role, durationMs),
    ...(isHere && url && { url }),
  };
  return (
    <section
      aria-label={label}
      className="grid gap-3 border-2 border-dashed border-petrol bg-sheet p-3"
      data-draft={id}
    >
      <p dir="auto" className="flex flex-wrap items-center gap-x-3 font-semibold">
        {label}
        <span role="status" className="text-sm font-normal text-soft">
          {isOnItsWay
            ? t('on its way: it is kept here, and put in as soon as it can be')
            : t('only you hear it')}
        </span>
      </p>
      {isSpoken && (isHere ? url !== null : contribution?.voiceState === 'stored' || delivery !== null) && (
        <div className="grid gap-2">
          <div className="flex flex-wrap items-center gap-3">
            <PlayButton track={track} label={label} text={t('Hear it')} />
            {durationMs !== null && <span className="tabular text-sm">{clock(durationMs)}</span>}
          </div>
          {isFilm && !isHere && <Film id={id} label={label} />}
        </div>
      )}
      {(problem ?? going?.refusal?.message ?? trouble) && (
        <Notice kind="trouble">{t((problem || going?.refusal?.message) ?? trouble ?? '')}</Notice>
      )}
      {!isOnItsWay && (
        <>
          {!isRefused && (
            <>
              {isSpoken && (
                <Field label={t('Title (optional)')}>
                  {ties => (
                    <input
                      {...ties}
                      dir="auto"
                      className={inputClass}
                      maxLength={LIMITS.title}
                      value={typed.title}
                      onChange={e => change({ title: e.target.value })}
                    />
                  )}
                </Field>
              )}
              <Field label={isSpoken ? t('References and notes (optional)') : t('What you write')}>
                {ties => (
                  <textarea
                    {...ties}
                    rows={2}
                    dir="auto"
                    className={inputClass}
                    maxLength={LIMITS.contributionWords}
                    value={typed.words}
                    onChange={e => change({ words: e.target.value })}
                  />
                )}
              </Field>
            </>
          )}
          {picture?.message && <Notice kind="trouble">{t(picture.message)}</Notice>}
          {picture && picture.state !== 'delivered' && picture.state !== 'kept' && (
            <p role="status">{t('The picture is on its way …')}</p>
          )}
          {shownPicture && <BesidePicture id={shownPicture} title={typed.title} />}
          <div className="flex flex-wrap gap-3">
            {!isRefused && (
              <Button look="main" onClick={putIn} disabled={!isSpoken && !typed.words.trim()}>
                <Send aria-hidden className="size-5" /> {t('Put it in')}
              </Button>
            )}
            {isSpoken && (
              <Button onClick={onAgain}>
                <Mic aria-hidden className="size-5" /> {t('Record again')}
              </Button>
            )}
            {pictureAllowed && isSpoken && !isRefused && (
              <Button onClick={() => file.current?.click()}>
                <ImagePlus aria-hidden className="size-5" />{' '}
                {shownPicture ? t('Another picture') : t('A picture with it')}
              </Button>
            )}
            <Button look="quiet" onClick={() => setAsks(true)}>
              <Trash2 aria-hidden className="size-5" /> {t('Throw it away …')}
            </Button>
          </div>
          <Confirm
            open={asks}
            onClose={() => setAsks(false)}
            title={t('Throw this away?')}
            yes={t('Throw it away')}
            no={t('Keep it')}
            isGrave
            onYes={() => void throwAway()}
          >
            {t('Nobody but you has heard it.')}
          </Confirm>
          <input
            ref={file}
            type="file"
            accept="image/*"
            aria-hidden
            aria-label={t('A picture with it')}
            tabIndex={-1}
            className="sr-only"
            onChange={e => {
              const chosen = e.target.files?.[0];
              e.target.value = '';
              if (!chosen) return;
              if (!isPictureFile(chosen))
                return setTrouble(t('That is not a picture. Choose a photograph or a drawing.'));
              setTrouble(null);
              void bringPicture(id, me.id, chosen).catch(() =>
                setTrouble(t('This device could not keep the picture. Free some space, then try again.')),
              );
            }}
          />
        </>
      )}
      {isOnItsWay && (
        <Button look="quiet" className="justify-self-start" onClick={() => puttingIn.hold(id)}>
          {t('Not yet')}
        </Button>
      )}
    </section>
  );
}
