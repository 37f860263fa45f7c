import { nth, sittingWords } from './sittingWords';

test('which sitting it is, and why', () => {
  expect([1, 2, 3, 4, 11, 22].map(nth)).toEqual(['1st', '2nd', '3rd', '4th', '11th', '22nd']);
  const of = (over: object) => sittingWords({ sittingNumber: 2, isAllowed: false, againFor: null, ...over });
  expect(of({ sittingNumber: 1 })).toBeNull();
  expect(of({})).toBe('This is the 2nd sitting.');
  expect(of({ isAllowed: true })).toBe('This is the 2nd sitting, which a teacher allowed.');
  expect(of({ isAllowed: true, againFor: 'Louder.' })).toBe(
    'This is the 2nd sitting, recorded again: “Louder.”',
  );
});
