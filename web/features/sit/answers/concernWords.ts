import type { Concern } from '@ecoute/core/audio/takeWatch';
import { t } from '../../../base/i18n';

/** What a student should know of a recording that runs, in words. */
export function concernWords(concern: Concern): string {
  switch (concern) {
    case 'nothing':
      return t(
        'Nothing is heard yet. If you are speaking or playing, the microphone may be muted, or another one is chosen.',
      );
    case 'muted':
      return t('The device has muted the microphone: what you say now is not recorded.');
    case 'clipped':
      return t('That is too loud and is distorted. Move a little away from the microphone.');
  }
}
