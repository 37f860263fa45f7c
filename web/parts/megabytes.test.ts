import { megabytes } from './megabytes';

const MB = 1024 ** 2;

it('says an amount of data as people do, and nothing only of nothing', () => {
  expect([0, 1, 20_000, MB / 10, 3.4 * MB, 250 * MB, 1.25 * 1024 * MB].map(megabytes)).toEqual([
    '0.0 MB',
    '1 kB',
    '20 kB',
    '0.1 MB',
    '3.4 MB',
    '250 MB',
    '1.3 GB',
  ]);
});
