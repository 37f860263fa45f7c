/** What is talked about in `./ecoute bench discussions`. */
import { blankContent, blankDiscussion, blankItem } from '@ecoute/contract/blank';

/** A discussion without a limit to what is said in it, with a starting point. */
export function talk() {
  const id = () => crypto.randomUUID();
  return {
    ...blankContent('discussion', {
      title: 'Thirty people, twenty times each',
      items: [
        blankItem(id(), 'discussion', { promptText: 'What is a harbour for?' }),
        blankItem(id(), 'discussion', { answerBy: 'nothing', promptText: 'The ferry' }),
      ],
    }),
    discussion: blankDiscussion({ contributionsAsked: 0, repliesAsked: 0 }),
  };
}
