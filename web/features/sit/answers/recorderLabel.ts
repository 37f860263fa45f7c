import type { AssessmentContent, RecorderWords } from '@ecoute/contract/assessments';

/** A label of the recorder: in the teacher's own words where there are any, else in the screen's. */
export function recorderLabel(
  content: Pick<AssessmentContent, 'recorderWords'>,
  name: keyof RecorderWords,
  usual: string,
): string {
  return content.recorderWords?.[name].trim() || usual;
}
