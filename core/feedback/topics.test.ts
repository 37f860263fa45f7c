import { topicOfStatements, topicsOfRubric } from './topics';

describe('topics made from what is there', () => {
  it('are the criteria of a rubric, the highest level first, without what is not described', () => {
    const levels = [
      { name: 'low', points: 0 },
      { name: 'mid', points: 1 },
      { name: 'high', points: 2 },
    ];
    const criteria = [
      { id: 'a', name: 'Flow', weight: 1, descriptors: ['Breaks off.', ' ', 'Hangs together.'] },
      { id: 'b', name: 'Sounds', weight: 1, descriptors: [] },
    ];
    expect(topicsOfRubric({ levels, criteria })).toEqual([
      {
        name: 'Flow',
        comments: [
          { words: 'Hangs together.', link: '' },
          { words: 'Breaks off.', link: '' },
        ],
      },
    ]);
  });

  it('are a list of statements, reached and not yet', () => {
    expect(
      topicOfStatements('A2', [{ code: 'A2.1', words: 'can order food' }]).comments.map(c => c.words),
    ).toEqual(['Reached: A2.1 can order food', 'Not yet: A2.1 can order food']);
  });
});
