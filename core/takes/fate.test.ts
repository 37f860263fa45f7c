import fc from 'fast-check';
import {
  deviceStep,
  endedAs,
  fateOf,
  GIVEN_UP_MS,
  handInStep,
  isWhole,
  LOOK_WAIT_MS,
  mayComeBack,
  patienceAfterTimeUp,
  QUIET_MS,
  serverStep,
  usedUp,
  usesUpTake,
  type DeviceSide,
  type ServerSide,
} from './fate';

const server = (over: Partial<ServerSide> = {}): ServerSide => ({
  state: 'arriving',
  problem: null,
  bytes: 100,
  length: null,
  quietMs: 0,
  cutShort: false,
  ...over,
});
const device = (over: Partial<DeviceSide> = {}): DeviceSide => ({ bytes: 100, ended: true, ...over });

const anyServer = fc
  .record({
    state: fc.constantFrom('arriving', 'checking', 'stored', 'refused' as const),
    problem: fc.constantFrom(null, 'lost', 'cancelled', 'damaged'),
    bytes: fc.nat(1000),
    length: fc.option(fc.nat(1000)),
    quietMs: fc.nat(3 * GIVEN_UP_MS),
    cutShort: fc.boolean(),
  })
  .map(s => ({
    ...s,
    state: s.state as ServerSide['state'],
    problem: s.state === 'refused' ? (s.problem ?? 'damaged') : null,
    length: s.length === null ? null : Math.max(s.length, s.bytes),
  }));

describe('where a take is', () => {
  it('is told from both sides', () => {
    expect(fateOf(null, device({ ended: false }))).toBe('recording');
    expect(fateOf(server(), device())).toBe('onTheWay');
    expect(fateOf(server(), null)).toBe('coming');
    expect(fateOf(server({ quietMs: QUIET_MS }), null)).toBe('quiet');
    expect(fateOf(server({ length: 100 }), null)).toBe('lookedAt');
    expect(fateOf(server({ state: 'checking' }), null)).toBe('lookedAt');
    expect(fateOf(server({ state: 'stored' }), device())).toBe('stands');
    expect(fateOf(server({ state: 'stored', cutShort: true }), null)).toBe('standsInPart');
    expect(fateOf(server({ state: 'refused', problem: 'lost' }), null)).toBe('lost');
    expect(fateOf(server({ state: 'refused', problem: 'cancelled' }), null)).toBe('letGo');
    expect(fateOf(server({ state: 'refused', problem: 'tooLong' }), null)).toBe('refused');
  });
});

describe('the allowance', () => {
  it('counts what came, also when it was thrown away, and gives back what never came or does not count', () => {
    expect(usesUpTake(server())).toBe(true);
    expect(usesUpTake(server({ state: 'stored' }))).toBe(true);
    expect(usesUpTake(server({ state: 'refused', problem: 'cancelled' }))).toBe(true);
    expect(usesUpTake(server({ state: 'refused', problem: 'cancelled', bytes: 0 }))).toBe(false);
    expect(usesUpTake(server({ state: 'refused', problem: 'lost', bytes: 0 }))).toBe(false);
    expect(usesUpTake(server({ state: 'refused', problem: 'damaged' }))).toBe(false);
  });

  it('is given back where a device failed: once, and only where something was used up', () => {
    const take = (isSilent: boolean, usesUp = true) => ({ usesUp, isSilent });
    expect(usedUp([take(false)], false)).toEqual({ used: 1, isGivenBack: false });
    expect(usedUp([take(true)], false)).toEqual({ used: 0, isGivenBack: true });
    expect(usedUp([take(true), take(true), take(false)], false)).toEqual({ used: 2, isGivenBack: true });
    expect(usedUp([take(true)], true)).toEqual({ used: 0, isGivenBack: true });
    expect(usedUp([take(false)], true)).toEqual({ used: 0, isGivenBack: true });
    expect(usedUp([take(true, false)], true)).toEqual({ used: 0, isGivenBack: false });
  });

  it('holds a place for what was just announced, and no longer for what nobody sends', () => {
    expect(usesUpTake(server({ bytes: 0 }))).toBe(true);
    expect(usesUpTake(server({ bytes: 0, quietMs: QUIET_MS }))).toBe(false);
    expect(usesUpTake(server({ bytes: 1, quietMs: GIVEN_UP_MS }))).toBe(true);
  });
});

describe('no state is for ever', () => {
  it('a hand-in never waits longer than a minute without asking', () => {
    fc.assert(
      fc.property(anyServer, s => {
        if (s.quietMs >= Math.max(QUIET_MS, LOOK_WAIT_MS)) expect(handInStep(s)).not.toBe('wait');
      }),
    );
    expect(handInStep(server())).toBe('wait');
    expect(handInStep(server({ quietMs: QUIET_MS }))).toBe('ask');
    expect(handInStep(server({ state: 'checking', quietMs: LOOK_WAIT_MS }))).toBe('withoutResult');
    expect(handInStep(server({ state: 'refused', problem: 'lost' }))).toBe('goOn');
  });

  it('time ends what nobody brings: as far as it came, or as lost', () => {
    fc.assert(
      fc.property(anyServer, s => {
        if (s.state === 'arriving' && s.quietMs >= GIVEN_UP_MS) expect(serverStep(s)).not.toBe('wait');
      }),
    );
    expect(serverStep(server({ length: 100 }))).toBe('lookAtIt');
    expect(serverStep(server({ quietMs: GIVEN_UP_MS - 1 }))).toBe('wait');
    expect(endedAs(server())).toBe('lookedAt');
    expect(endedAs(server({ bytes: 0 }))).toBe('lost');
    // After the end of a limited sitting: soon where nothing came, longer where something does.
    const nothing = server({ bytes: 0, quietMs: QUIET_MS });
    expect(serverStep(nothing, patienceAfterTimeUp(nothing))).toBe('endIt');
    const some = server({ quietMs: QUIET_MS });
    expect(serverStep(some, patienceAfterTimeUp(some))).toBe('wait');
  });

  it('a device always has something to do, and lets go only of what the server holds or nobody wants', () => {
    fc.assert(
      fc.property(fc.option(anyServer, { nil: null }), fc.nat(1000), fc.boolean(), (s, bytes, same) => {
        const step = deviceStep(s, device({ bytes }), 'own', same ? 'own' : 'other');
        if (step === 'drop' && bytes > 0 && s!.problem !== 'cancelled')
          expect([same, s!.state === 'stored' || s!.state === 'refused', mayComeBack(s!)]).toEqual([
            true,
            true,
            false,
          ]);
        if (step === 'wait') expect(isWhole(s!) || s!.state === 'checking').toBe(true);
      }),
    );
  });

  it('a device that comes back goes on where it was', () => {
    expect(deviceStep(null, device(), 'a', null)).toBe('announce');
    expect(deviceStep(server(), device(), 'a', null)).toBe('send');
    expect(deviceStep(server({ state: 'checking' }), device(), 'a', null)).toBe('wait');
    // Ended without it meanwhile: it may still bring the rest.
    expect(deviceStep(server({ state: 'stored', cutShort: true }), device(), 'a', 'b')).toBe('announce');
    expect(deviceStep(server({ state: 'refused', problem: 'lost' }), device(), 'a', null)).toBe('announce');
    expect(deviceStep(server({ state: 'stored' }), device(), 'a', 'a')).toBe('drop');
    expect(deviceStep(server({ state: 'stored' }), device(), 'a', 'b')).toBe('keep');
    expect(deviceStep(server(), device({ bytes: 0, isLeft: true }), null, null)).toBe('letGo');
    // Whoever just recorded it is told by the server's word that there was nothing in it.
    expect(deviceStep(null, device({ bytes: 0 }), null, null)).toBe('announce');
    expect(deviceStep(server(), device({ bytes: 0 }), null, null)).toBe('send');
  });
});
