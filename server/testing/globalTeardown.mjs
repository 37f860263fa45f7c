export default async function teardown() {
  const child = globalThis.ecouteTestDatabase;
  if (!child) return;
  await new Promise(resolve => {
    child.removeAllListeners('exit');
    child.once('exit', resolve);
    child.kill('SIGTERM');
  });
}
