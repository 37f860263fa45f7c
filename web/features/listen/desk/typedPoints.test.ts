import { joinedPoints, withHalf } from './typedPoints';

test('digits make numbers up to what the item carries', () => {
  expect(joinedPoints('', '4', 5)).toEqual({ points: '4', mayGoOn: false });
  expect(joinedPoints('', '1', 20)).toEqual({ points: '1', mayGoOn: true });
  expect(joinedPoints('1', '5', 20)).toEqual({ points: '15', mayGoOn: false });
  expect(joinedPoints('2', '5', 20)).toEqual({ points: '5', mayGoOn: false });
  expect(joinedPoints('', '0', 20)).toEqual({ points: '0', mayGoOn: false });
  // After a nought or a half nothing joins.
  expect(joinedPoints('0', '7', 20)).toEqual({ points: '7', mayGoOn: false });
  expect(joinedPoints('3.5', '2', 20)).toEqual({ points: '2', mayGoOn: true });
});

test('half a point more, and less again', () => {
  expect(withHalf('', 5)).toBe('0.5');
  expect(withHalf('3', 5)).toBe('3.5');
  expect(withHalf('3.5', 5)).toBe('3');
  expect(withHalf('5', 5)).toBe('5');
  expect(withHalf('2.25', 5)).toBe('2.75');
});
