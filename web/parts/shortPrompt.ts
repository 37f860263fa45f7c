import type { Item } from '@ecoute/contract/assessments';
import { t } from '../base/i18n';

const SHOWN: Record<Item['stimuli'][number]['kind'], string> = {
  picture: 'Picture',
  pages: 'Page',
  notation: 'Notation',
  passage: 'Passage',
  link: 'Link',
};

/** An item's prompt in a line: its words, or what stands in their place. */
export function shortPrompt(
  item: Pick<Item, 'promptText' | 'promptRecordingId' | 'promptIsVideo' | 'stimuli'>,
): string {
  const { promptText, promptRecordingId, promptIsVideo, stimuli } = item;
  if (promptText.trim()) return promptText;
  const first = stimuli[0];
  if (first?.kind === 'passage' && first.text.trim()) return first.text.trim().split('\n')[0]!;
  if (first?.kind === 'pages' && first.page > 0) return t('Page {{number}}', { number: first.page });
  if (first?.words) return first.words;
  if (promptRecordingId) return promptIsVideo ? t('Filmed prompt') : t('Spoken prompt');
  return first ? t(SHOWN[first.kind]) : '';
}
