let personId = '';

/** Says whose this page is: what is kept on the device for one person is not found, nor sent, by the next. */
export function pageOf(id: string | undefined): void {
  personId = id ?? '';
}

/** Whose this page is; empty before anybody signed in. */
export const pagePerson = (): string => personId;

/** A name in the device's own storage that is one person's. */
export function ownKey(name: string): string {
  return `${name}@${personId}`;
}
