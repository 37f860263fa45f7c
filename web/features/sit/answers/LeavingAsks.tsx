import { Confirm } from '../../../parts/Confirm';
import { useLeaving, type Running } from './useLeaving';

/** Whether somebody really leaves while something runs. */
export function LeavingAsks({ running }: { running: Running }) {
  const { isAsked, stay, leave, title, says, yes, no } = useLeaving(running);
  return (
    <Confirm isGrave open={isAsked} onClose={stay} title={title} no={no} yes={yes} onYes={leave}>
      {says}
    </Confirm>
  );
}
