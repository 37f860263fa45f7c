import {
  differences,
  sittingDifferences,
  STARTING_POINTS,
  type StartingPoint,
} from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { Segments } from '../../../parts/Segments';
import { POINT_WORDS } from '../whole/policyWords';

/** The five starting points; choosing one sets every policy of the sitting and of every item. */
export function StartingPoints({
  content,
  onChoose,
}: {
  content: AssessmentContent;
  onChoose: (point: StartingPoint) => void;
}) {
  // A discussion has its own settings, none of which a sitting has.
  const isTalk = content.startingPoint === 'discussion';
  const unlike = isTalk
    ? 0
    : content.items.filter(i => differences(i, content.startingPoint).length > 0).length;
  const whole = !isTalk && sittingDifferences(content, content.startingPoint).length > 0;
  const what = [
    ...(whole ? ['the whole sitting'] : []),
    ...(unlike > 0 ? [unlike === 1 ? 'one item' : `${unlike} items`] : []),
  ].join(' and ');
  return (
    <div>
      <Segments
        label="How it is sat"
        value={content.startingPoint}
        options={STARTING_POINTS.map(point => ({ value: point, name: POINT_WORDS[point].name }))}
        onChange={onChoose}
      />
      <p className="mt-1 text-sm text-soft">
        {POINT_WORDS[content.startingPoint].says}
        {what &&
          ` ${what[0]!.toUpperCase()}${what.slice(1)} ${Number(whole) + unlike === 1 ? 'differs from it, and says' : 'differ from it, and say'} where.`}
      </p>
    </div>
  );
}
