/** Entry of the worker threads: the heavy part of the recording jobs. */
import { inspect, makePlayable, type Inspection } from './sound';

export type Task =
  { kind: 'inspect'; path: string } | { kind: 'makePlayable'; input: string; output: string };

export default async function work(task: Task): Promise<Inspection | null> {
  if (task.kind === 'inspect') return inspect(task.path);
  await makePlayable(task.input, task.output);
  return null;
}
