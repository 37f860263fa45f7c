import { FileUp } from 'lucide-react';
import { useRef } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { useBringFile } from './useBringFile';
import { t } from '../../../base/i18n';

/** A recording made elsewhere, instead of one made here. */
export function BringFile({ sittingId, item }: { sittingId: string; item: Item }) {
  const { bring, trouble } = useBringFile(sittingId, item, 'uploaded');
  const file = useRef<HTMLInputElement>(null);
  return (
    <div className="grid gap-2">
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      <Button look="quiet" onClick={() => file.current?.click()}>
        <FileUp aria-hidden className="size-5" /> {t('Bring a recording instead')}
      </Button>
      <input
        ref={file}
        type="file"
        aria-hidden
        accept="audio/*,video/*,.amr,.3gp,.aiff,.aif,.flac,.opus"
        aria-label={t('Recording to bring')}
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
