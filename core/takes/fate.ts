/**
 * The fate of a take: where its bytes are, what is known of it, what it counts as, who may let go of it, and what each
 * side does after any interruption. Server and browser decide with these functions alone, so that from every state there
 * is a way out that a person can see, and one that time finds automatically (docs/decisions/0024).
 *
 *   announced ─ bytes come ─ all here ─ looked at ─ stands
 *       │            │           │           └───── refused (kept as it came, does not count)
 *       └─ lost      └─ cut short┘  (nobody brings the rest: what came is looked at)
 *
 * Whatever ended without all of its bytes is opened again when a device comes with them before the hand-in.
 */

/** What the server has stored of a recording. */
export type ServerState = 'arriving' | 'checking' | 'stored' | 'refused';

/** What the server knows of a recording. */
export interface ServerSide {
  state: ServerState;
  /** Why it does not stand; null where it does, or is not known yet. */
  problem: string | null;
  /** Bytes that are here. */
  bytes: number;
  /** How many it has in all, once its device has said so; null before. */
  length: number | null;
  /** Since the last byte came, or since it was announced; in ms. */
  quietMs: number;
  /** It was ended before all bytes came, and counts as far as they did. */
  cutShort: boolean;
}

/** What a device knows of a recording that it holds. */
export interface DeviceSide {
  /** Bytes kept here. */
  bytes: number;
  /** No more will be recorded. */
  ended: boolean;
  /** An earlier page left it here: nobody waits to be told that there is nothing in it. */
  isLeft?: boolean;
}

export type Fate =
  /** Being recorded on this device. */
  | 'recording'
  /** Whole on this device; its bytes are on their way. */
  | 'onTheWay'
  /** Its bytes come from another device. */
  | 'coming'
  /** Another device has it and has not been heard of for a while. */
  | 'quiet'
  /** All that will come is here, and is being looked at. */
  | 'lookedAt'
  | 'stands'
  /** Stands as far as it came. */
  | 'standsInPart'
  /** Kept as it came, and does not count. */
  | 'refused'
  /** Nothing of it ever came. */
  | 'lost'
  /** Its student let go of it. */
  | 'letGo';

/** No byte for this long: whoever sends it is not there just now. The recorder sends one piece each second. */
export const QUIET_MS = 45_000;
/** Looking at a take is a matter of seconds; after this long a hand-in goes on without its result. */
export const LOOK_WAIT_MS = 60_000;
/** Nobody came with the rest for this long: it is ended as far as it came. */
export const GIVEN_UP_MS = 24 * 3_600_000;
/** After the end of a limited sitting, bytes that still come are waited for this long … */
export const TIME_UP_WAIT_MS = 10 * 60_000;

/**
 * Where a take is.
 * @param server null where the server does not know it (yet)
 * @param device null where it is not on this device
 */
export function fateOf(server: ServerSide | null, device: DeviceSide | null): Fate {
  if (server?.state === 'stored') return server.cutShort ? 'standsInPart' : 'stands';
  if (server?.state === 'refused')
    return server.problem === 'lost' ? 'lost' : server.problem === 'cancelled' ? 'letGo' : 'refused';
  if (server?.state === 'checking') return 'lookedAt';
  if (device) return device.ended ? 'onTheWay' : 'recording';
  if (!server) return 'lost';
  return isWhole(server) ? 'lookedAt' : server.quietMs >= QUIET_MS ? 'quiet' : 'coming';
}

/** Every byte is here. */
export function isWhole({ bytes, length }: Pick<ServerSide, 'bytes' | 'length'>): boolean {
  return length !== null && bytes >= length;
}

/** A take is used up once something of it came, or may still come; what was lost or does not count is given back. */
export function usesUpTake({
  state,
  problem,
  bytes,
  quietMs,
}: Omit<ServerSide, 'length' | 'cutShort'>): boolean {
  if (state === 'checking' || state === 'stored') return true;
  // Announced and never sent is no take; what came and was thrown away is one.
  if (state === 'arriving') return bytes > 0 || quietMs < QUIET_MS;
  return problem === 'cancelled' && bytes > 0;
}

/** What is known of one of an item's takes when they are counted. */
export interface CountedTake {
  usesUp: boolean;
  /** It stands, and nothing can be heard in it: the device failed, and not its student. */
  isSilent: boolean;
}

/**
 * How many of an item's takes are used up. Where a device failed, one is given back without anybody being asked: once, for
 * whoever records silence again wants time, and not another microphone.
 * @param deviceFailed the account says that the microphone was taken away while it recorded
 */
export function usedUp(
  takes: readonly CountedTake[],
  deviceFailed: boolean,
): { used: number; isGivenBack: boolean } {
  const counted = takes.filter(t => t.usesUp);
  const isGivenBack = counted.length > 0 && (deviceFailed || counted.some(t => t.isSilent));
  return { used: counted.length - (isGivenBack ? 1 : 0), isGivenBack };
}

/** What a hand-in does about a take that is not settled. */
export type HandInStep =
  /** Nothing: it is settled. */
  | 'goOn'
  /** Wait a moment: bytes come, or it is being looked at. */
  | 'wait'
  /** Say so and ask: nobody brings it just now. With the student's word it is ended as far as it came. */
  | 'ask'
  /** All that will come is here; the hand-in does not wait for what is found in it. */
  | 'withoutResult';

export function handInStep(server: ServerSide): HandInStep {
  switch (fateOf(server, null)) {
    case 'coming':
      return 'wait';
    case 'quiet':
      return 'ask';
    case 'lookedAt':
      return server.quietMs < LOOK_WAIT_MS ? 'wait' : 'withoutResult';
    default:
      return 'goOn';
  }
}

/** What the server does automatically with a take whose bytes are not all here. */
export type ServerStep = 'wait' | 'lookAtIt' | 'endIt';

/** @param patienceMs how long the rest is waited for; shorter once the time of a sitting is up */
export function serverStep(server: ServerSide, patienceMs = GIVEN_UP_MS): ServerStep {
  if (server.state !== 'arriving') return 'wait';
  if (isWhole(server)) return 'lookAtIt';
  return server.quietMs >= patienceMs ? 'endIt' : 'wait';
}

/** How long the rest of a take is waited for once its sitting's time is up: not at all where nothing came. */
export function patienceAfterTimeUp({ bytes }: Pick<ServerSide, 'bytes'>): number {
  return bytes > 0 ? TIME_UP_WAIT_MS : QUIET_MS;
}

/** What a take that was ended early becomes: what came is looked at; where nothing came, it is lost. */
export function endedAs({ bytes }: Pick<ServerSide, 'bytes'>): 'lookedAt' | 'lost' {
  return bytes > 0 ? 'lookedAt' : 'lost';
}

/** Whether a device that comes (back) with the bytes of a take may go on with it. */
export function mayComeBack(server: Pick<ServerSide, 'state' | 'problem' | 'cutShort'>): boolean {
  return (
    server.state === 'arriving' ||
    server.cutShort ||
    (server.state === 'refused' && server.problem === 'lost')
  );
}

/** What a device does next with a sound that it holds. */
export type DeviceStep =
  /** Tell the server of it. */
  | 'announce'
  /** Send what is missing. */
  | 'send'
  /** Ask again in a while: the server is at it. */
  | 'wait'
  /** The server has the same bytes: let go of it here. */
  | 'drop'
  /** There is nothing in it: tell the server so, then let go of it. */
  | 'letGo'
  /** The server will not take it: keep it here, say why, and offer the ways out. */
  | 'keep';

/**
 * @param server  what the server answered last; null before it was told of the sound
 * @param own     the checksum of what is here; null where it cannot be told (pieces are missing here)
 * @param theirs  the checksum of what the server holds; null until it was looked at
 */
export function deviceStep(
  server: ServerSide | null,
  device: DeviceSide,
  own: string | null,
  theirs: string | null,
): DeviceStep {
  if (device.isLeft && device.ended && device.bytes === 0)
    return server?.state === 'stored' ? 'drop' : 'letGo';
  if (!server) return 'announce';
  if (server.state === 'arriving') return isWhole(server) ? 'wait' : 'send';
  if (server.state === 'checking') return server.cutShort ? 'announce' : 'wait';
  if (server.problem === 'cancelled') return 'drop';
  if (mayComeBack(server)) return 'announce';
  // What the server measured of the same bytes holds, whether it stands or not.
  return own === null || theirs === null || own === theirs ? 'drop' : 'keep';
}
