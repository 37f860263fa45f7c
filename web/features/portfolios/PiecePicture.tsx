import { ImagePlus, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { LIMITS } from '@ecoute/contract/limits';
import type { PortfolioPiece } from '@ecoute/contract/portfolios';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useOwnFile } from './useOwnFile';

/** A picture beside a recording, with words for whoever does not see it. */
export function PiecePicture({
  portfolioId,
  piece,
  title,
  onChange,
}: {
  portfolioId: string;
  piece: PortfolioPiece;
  title: string;
  onChange: (change: Partial<PortfolioPiece>) => void;
}) {
  const { bring, fateOf, trouble } = useOwnFile(portfolioId);
  const [wrong, setWrong] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const { pictureId } = piece;
  const fate = pictureId ? fateOf(pictureId) : null;
  const choose = async (file: File) => {
    const isPicture = file.type.startsWith('image/') && file.size <= LIMITS.fileBytes;
    setWrong(isPicture ? null : t('That is not a picture. Choose a photograph or a drawing.'));
    if (!isPicture) return;
    const id = crypto.randomUUID();
    if (await bring(id, 'picture', file.type, file)) onChange({ pictureId: id });
  };
  return (
    <div className="grid content-start gap-2">
      {pictureId && fate?.underWay && <p className="text-sm text-soft">{t('The picture is on its way …')}</p>}
      {pictureId && !fate?.underWay && (
        <img
          src={`/api/recordings/${pictureId}/shown`}
          alt={piece.pictureWords || t('Your picture')}
          className="max-h-48 max-w-full justify-self-start object-contain"
        />
      )}
      {pictureId && (
        <Field label={t('What is in the picture')}>
          {ties => (
            <input
              {...ties}
              dir="auto"
              maxLength={LIMITS.stimulusWords}
              value={piece.pictureWords}
              onChange={e => onChange({ pictureWords: e.target.value })}
              className={inputClass}
            />
          )}
        </Field>
      )}
      <div className="flex flex-wrap gap-2">
        <input
          ref={input}
          type="file"
          accept="image/*"
          className="sr-only"
          tabIndex={-1}
          aria-label={t('A picture for {{what}}', { what: title })}
          onChange={e => {
            const file = e.target.files?.[0];
            e.target.value = '';
            if (file) void choose(file);
          }}
        />
        <Button onClick={() => input.current?.click()}>
          <ImagePlus aria-hidden className="size-5" />
          {pictureId ? t('Another picture') : t('Add a picture')}
        </Button>
        {pictureId && (
          <Button look="quiet" onClick={() => onChange({ pictureId: null, pictureWords: '' })}>
            <Trash2 aria-hidden className="size-5" /> {t('Take the picture away')}
          </Button>
        )}
      </div>
      {(wrong ?? trouble ?? fate?.message) && (
        <Notice kind="trouble">{wrong ?? trouble ?? fate?.message}</Notice>
      )}
    </div>
  );
}
