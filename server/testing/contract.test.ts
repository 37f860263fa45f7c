import { readdirSync } from 'node:fs';
import { join } from 'node:path';

describe('each file of the contract', () => {
  const contract = join(__dirname, '../../contract');
  const files = readdirSync(contract, { recursive: true, encoding: 'utf8' }).filter(
    f => f.endsWith('.ts') && !f.includes('.test.') && !f.includes('node_modules'),
  );

  it.each(files)('can be the first that a page loads: %s', async file => {
    const known = Object.getOwnPropertyDescriptors(Reflect);
    for (const name of Object.keys(known)) if (/metadata/i.test(name)) Reflect.deleteProperty(Reflect, name);
    try {
      await jest.isolateModulesAsync(async () => void (await import(join(contract, file))));
    } finally {
      Object.defineProperties(Reflect, known);
    }
  });
});
