import { Podcast } from 'lucide-react';
import { PrivateAddress } from '../../../parts/PrivateAddress';
import { useRenewTalkFeedMutation, useRevokeTalkFeedMutation, useTalkFeedQuery } from '../endpoints';

/** The discussion in a program that plays podcasts: an address of one's own, renewed or revoked at will. */
export function TalkPodcast({ releaseId }: { releaseId: string }) {
  const { data } = useTalkFeedQuery(releaseId);
  const [renew] = useRenewTalkFeedMutation();
  const [revoke] = useRevokeTalkFeedMutation();
  return (
    <PrivateAddress
      opens={
        <>
          <Podcast aria-hidden className="size-5" /> As a podcast …
        </>
      }
      title="The discussion as a podcast"
      says="A podcast program subscribes to an address. Whoever has it hears everybody in this discussion and reads their names and words: keep it to yourself, or to those who may. It ends when you take it away, and when you teach the class no more."
      url={data?.url ?? null}
      onRenew={() => void renew(releaseId)}
      onRevoke={() => void revoke(releaseId)}
    />
  );
}
