import { RadioGroup } from 'radix-ui';
import { differences, STARTING_POINTS, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { POINT_WORDS } from './policyWords';

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
      <RadioGroup.Root
        aria-label="How it is sat"
        value={content.startingPoint}
        onValueChange={value => onChoose(value as StartingPoint)}
        className="inline-flex flex-wrap border-2 border-edge"
      >
        {STARTING_POINTS.map(point => (
          <RadioGroup.Item
            key={point}
            value={point}
            className="min-h-11 bg-sheet px-4 font-semibold data-[state=checked]:bg-ink data-[state=checked]:text-sheet"
          >
            {POINT_WORDS[point].name}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      <p className="mt-1 text-sm text-soft">
        {POINT_WORDS[content.startingPoint].says}
        {unlike > 0 &&
          ` ${unlike === 1 ? 'One item differs' : `${unlike} items differ`} from it; each says where.`}
      </p>
    </div>
  );
}
