import { ImagePlus, Pencil } from 'lucide-react';
import { useRef, useState } from 'react';
import { blankStimulus } from '@ecoute/contract/blank';
import { LIMITS } from '@ecoute/contract/limits';
import type { TakeView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../../base/api';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { desk } from '../../../parts/recorder/delivery';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { StimulusView } from '../../../parts/stimuli/StimulusView';
import { useDescribeTakeMutation, useRemovePictureMutation } from '../endpoints';
import { bringPicture, isPictureFile } from './ownPicture';
import { problemWords } from './problemWords';
import { t } from '../../../base/i18n';

/** A picture beside a take, to be looked at. */
export function TakePicture({ id, title }: { id: string; title: string }) {
  return (
    <StimulusView
      stimulus={blankStimulus(id, 'picture', {
        recordingId: id,
        words: title || t('Picture beside the take'),
      })}
    />
  );
}

/** A title, a note and a picture beside a take, in the student's own words. Kept as soon as they are said. */
export function OwnWords({
  take,
  sittingId,
  onChanged,
}: {
  take: Pick<TakeView, 'id' | 'title' | 'note' | 'pictureId'>;
  sittingId: string;
  onChanged?: () => void;
}) {
  const me = useMe();
  const [open, setOpen] = useState(false);
  const [draft, setDraft] = useState({ title: take.title, note: take.note });
  const [describe, describing] = useDescribeTakeMutation();
  const [removePicture] = useRemovePictureMutation();
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const picture = useDeliveries().find(d => d.sound.place.itemId === `picture of ${take.id}`);
  const refusal = refusalOf(describing.error);
  const says = take.title || take.note || take.pictureId;
  const keep = () => {
    if (draft.title.trim() === take.title && draft.note.trim() === take.note) return;
    void describe({ sittingId, takeId: take.id, ...draft })
      .unwrap()
      .then(onChanged, () => undefined);
  };
  const bring = async (chosen: File) => {
    setTrouble(null);
    if (!isPictureFile(chosen)) {
      setTrouble(t('That is not a picture. Choose a photograph or a drawing.'));
      return;
    }
    await bringPicture(take.id, me.id, chosen).catch(() =>
      setTrouble(t('This device could not keep the picture. Free some space, then try again.')),
    );
  };
  const shown =
    picture?.state === 'delivered' && picture.recording?.state === 'stored'
      ? picture.sound.id
      : picture
        ? null
        : take.pictureId;
  if (!open)
    return (
      <div className="grid gap-2">
        {take.title && <p className="font-semibold">{take.title}</p>}
        {take.note && <p className="whitespace-pre-wrap">{take.note}</p>}
        {shown && (
          <div className="max-w-60">
            <TakePicture id={shown} title={take.title} />
          </div>
        )}
        <Button look="quiet" className="justify-self-start" onClick={() => setOpen(true)}>
          <Pencil aria-hidden className="size-5" />{' '}
          {says ? t('Change title, note or picture') : t('Add a title, a note or a picture')}
        </Button>
      </div>
    );
  return (
    <div className="grid gap-3 border-s-4 border-petrol ps-4">
      <Field label={t('Title (optional)')}>
        {ties => (
          <input
            {...ties}
            className={inputClass}
            maxLength={LIMITS.title}
            value={draft.title}
            onChange={e => setDraft({ ...draft, title: e.target.value })}
            onBlur={keep}
          />
        )}
      </Field>
      <Field label={t('Note (optional)')} hint={t('How it went, what you worked on. Your teacher reads it.')}>
        {ties => (
          <textarea
            {...ties}
            rows={3}
            className={inputClass}
            maxLength={LIMITS.takeNote}
            value={draft.note}
            onChange={e => setDraft({ ...draft, note: e.target.value })}
            onBlur={keep}
          />
        )}
      </Field>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      {picture?.message && (
        <Notice kind="trouble">
          {(picture.recording && problemWords(picture.recording)) ?? t(picture.message)}
        </Notice>
      )}
      {picture && picture.state !== 'delivered' && picture.state !== 'kept' && (
        <p role="status">{t('The picture is on its way …')}</p>
      )}
      {shown && (
        <div className="max-w-60">
          <TakePicture id={shown} title={take.title} />
        </div>
      )}
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => file.current?.click()}>
          <ImagePlus aria-hidden className="size-5" />{' '}
          {shown ? t('Another picture') : t('A picture: the page, the score')}
        </Button>
        {shown && (
          <Button
            look="quiet"
            onClick={() => {
              if (picture) desk.forget(picture.sound.id);
              void removePicture({ sittingId, takeId: take.id }).then(onChanged);
            }}
          >
            {t('Take the picture away')}
          </Button>
        )}
        <Button
          onClick={() => {
            keep();
            setOpen(false);
          }}
        >
          {t('Done')}
        </Button>
      </div>
      <input
        ref={file}
        type="file"
        aria-hidden
        accept="image/*"
        aria-label={t('Picture beside the take')}
        className="sr-only"
        tabIndex={-1}
        onChange={e => {
          const chosen = e.target.files?.[0];
          if (chosen) void bring(chosen);
          e.target.value = '';
        }}
      />
    </div>
  );
}
