import { ArrowRight, Cookie, Mic } from 'lucide-react';
import { isRecorded } from '@ecoute/core/timing/strip';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import type { Microphone } from '../../../parts/recorder/microphone';
import { stands } from '../answered';
import { ItemStage } from '../ItemStage';
import type { Account } from '../useAccount';
import { ChildCheck } from './ChildCheck';
import { ChildDirections } from './ChildDirections';
import { ChildDone } from './ChildDone';
import { ChildFrame, Shape } from './ChildFrame';
import { ChildHandIn } from './ChildHandIn';
import { ChildAnswer, ChildMaterial } from './ChildItem';
import { useVoice } from './useVoice';

export type ChildStage =
  { at: 'directions' | 'check' | 'handIn' | 'break' | 'done' } | { at: 'item'; index: number };

export interface ChildStagesProps {
  sitting: SittingView;
  stage: ChildStage;
  account: Account;
  microphone: Microphone | null;
  timeUp: boolean;
  upAtMs: number | null;
  /** Why the items could not be had. */
  trouble: string | null;
  onMicrophone: (microphone: Microphone) => void;
  onBegin: () => void;
  onChecked: () => void;
  onCheck: () => void;
  /** Begins a break; null where none is left, or no clock runs. */
  onBreak: (() => void) | null;
  onItem: (index: number) => void;
  onHandIn: () => void;
  onGoOn: () => void;
  onLeave: () => void;
}

/** A sitting for a child who does not read yet: pictures, sound, one big thing at a time. */
export default function ChildStages(props: ChildStagesProps) {
  const { sitting, stage, account, microphone, upAtMs, onLeave } = props;
  switch (stage.at) {
    case 'done':
      return <ChildDone sitting={sitting} onLeave={onLeave} />;
    case 'break':
      return (
        <ChildFrame
          label={t('A break')}
          voice={null}
          onLeave={onLeave}
          actions={<Shape icon={ArrowRight} kind="go" label={t('Go on')} onPress={props.onGoOn} />}
        >
          <Cookie aria-hidden className="size-40 text-soft" />
        </ChildFrame>
      );
    case 'directions':
      return (
        <ChildDirections
          sitting={sitting}
          trouble={props.trouble}
          onBegin={props.onBegin}
          onLeave={onLeave}
        />
      );
    case 'check':
      return (
        <ChildCheck
          forMusic={sitting.subject === 'music'}
          content={sitting.content}
          microphone={microphone}
          onMicrophone={props.onMicrophone}
          onDone={props.onChecked}
          onLeave={onLeave}
        />
      );
    case 'handIn':
      return (
        <ChildHandIn
          sitting={sitting}
          account={account}
          timeUp={props.timeUp}
          onBack={props.onItem}
          onLeave={onLeave}
        />
      );
    case 'item': {
      const item = sitting.content.items[stage.index]!;
      const { items } = sitting.content;
      // What stands from before is not met again: the ways lead past it.
      const open = items.flatMap((i, n) => (stands(sitting, i.id) ? [] : [n]));
      const next = open.find(n => n > stage.index);
      const before = open.findLast(n => n < stage.index);
      const own = {
        sitting,
        item,
        number: stage.index + 1,
        account,
        upAtMs,
        onNext: () => (next === undefined ? props.onHandIn() : props.onItem(next)),
        onBefore: before === undefined ? null : () => props.onItem(before),
        onBreak: props.onBreak,
        onLeave,
      };
      if (item.answerBy === 'nothing') return <ChildMaterial key={item.id} {...own} />;
      if (item.answerBy === 'audio')
        return microphone ? (
          <ChildAnswer key={item.id} {...own} microphone={microphone} />
        ) : (
          <NoMicrophone sitting={sitting} onCheck={props.onCheck} onLeave={onLeave} />
        );
      // Written, filmed or brought: with a grown-up, on the page as it is for everybody.
      return (
        <ItemStage
          key={item.id}
          sitting={sitting}
          index={stage.index}
          account={account}
          microphone={isRecorded(item.answerBy) ? microphone : null}
          onMove={props.onItem}
          onReview={props.onHandIn}
          onCheck={props.onCheck}
          onBreak={props.onBreak}
          upAtMs={upAtMs}
        />
      );
    }
  }
}

function NoMicrophone({
  sitting,
  onCheck,
  onLeave,
}: {
  sitting: SittingView;
  onCheck: () => void;
  onLeave: () => void;
}) {
  const voice = useVoice([{ word: 'allow' }], 'microphone', sitting.content);
  return (
    <ChildFrame
      label={t('Your microphone')}
      voice={voice}
      onLeave={onLeave}
      actions={<Shape icon={Mic} kind="speak" calls label={t('Check the microphone')} onPress={onCheck} />}
    >
      <Mic aria-hidden className="size-32 text-soft" />
    </ChildFrame>
  );
}
