import { differences, STARTING_POINTS, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { Segments } from '../../../parts/Segments';
import { POINT_WORDS } from '../whole/policyWords';

/** The four starting points; choosing one sets every policy of every item. */
export function StartingPoints({
  content,
  onChoose,
}: {
  content: AssessmentContent;
  onChoose: (point: StartingPoint) => void;
}) {
  const unlike = content.items.filter(i => differences(i, content.startingPoint).length > 0).length;
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
        {unlike > 0 &&
          ` ${unlike === 1 ? 'One item differs' : `${unlike} items differ`} from it; each says where.`}
      </p>
    </div>
  );
}
