import { describe, expect, it } from '@jest/globals';
import type { ComponentType } from 'react';
import { renderToString } from 'react-dom/server';
import { page } from './page';

const Harbour: ComponentType = () => <h1>The harbour</h1>;

describe('a page in a bundle of its own', () => {
  it('shows that it loads where it was not fetched, and itself at once where it was', async () => {
    let times = 0;
    const { element, handle } = page(() => Promise.resolve({ Harbour: (times++, Harbour) }), 'Harbour');
    expect(handle.isThere()).toBe(false);
    expect(times).toBe(0);
    expect(renderToString(element)).not.toContain('The harbour');
    await handle.fetch();
    expect(handle.isThere()).toBe(true);
    expect(renderToString(element)).toContain('<h1>The harbour</h1>');
  });

  it('is not there where it cannot be had, and may come later', async () => {
    let isAway = true;
    const load = () => (isAway ? Promise.reject(new Error('away')) : Promise.resolve({ Harbour }));
    const { handle } = page(load, 'Harbour');
    await expect(handle.fetch()).rejects.toThrow('away');
    expect(handle.isThere()).toBe(false);
    isAway = false;
    await handle.fetch();
    expect(handle.isThere()).toBe(true);
  });
});
