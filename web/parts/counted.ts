/** A number and what it counts: “1 comment”, “3 comments”. @param many the plural where it is not the word and an s */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`;
}
