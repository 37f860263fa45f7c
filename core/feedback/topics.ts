/** Topics of comments that are made from what is there already. */
import type { Rubric } from '../scoring/scheme';

export interface DraftTopic {
  name: string;
  comments: { words: string; link: string }[];
}

/**
 * A topic for each criterion of a rubric, with a comment for each of its described levels, highest first: what is praised
 * before what is to be worked on. Levels without a descriptor give none, nor do criteria without any.
 */
export function topicsOfRubric(rubric: Rubric): DraftTopic[] {
  return rubric.criteria
    .map(criterion => ({
      name: criterion.name.trim(),
      comments: rubric.levels
        .map((_, i) => criterion.descriptors[i]?.trim() ?? '')
        .reverse()
        .filter(words => words !== '')
        .map(words => ({ words, link: '' })),
    }))
    .filter(t => t.name !== '' && t.comments.length > 0);
}

/** A topic of a list of can-do statements: for each, that it is reached, and that it is not yet. */
export function topicOfStatements(
  name: string,
  statements: readonly { code: string; words: string }[],
): DraftTopic {
  return {
    name,
    comments: statements.flatMap(({ code, words }) => {
      const said = `${code ? `${code} ` : ''}${words.trim()}`;
      return [
        { words: `Reached: ${said}`, link: '' },
        { words: `Not yet: ${said}`, link: '' },
      ];
    }),
  };
}
