import type { MarkbookStudent } from '@ecoute/contract/results';
import type { NamedStudent, groupsOf } from './store';

type GroupRows = Awaited<ReturnType<typeof groupsOf>>;

/** Students as the rows of a table, with the groups that they are in. */
export function studentViews(students: readonly NamedStudent[], groups: GroupRows): MarkbookStudent[] {
  return students.map(s => ({
    id: s.id,
    displayName: s.displayName,
    groupIds: groups.filter(g => g.personId === s.id).map(g => g.id),
    kind: s.isMember ? 'student' : s.isGuest ? 'guest' : 'left',
  }));
}

/** Groups once each. */
export function groupViews(groups: GroupRows): { id: string; name: string }[] {
  return [...new Map(groups.map(g => [g.id, { id: g.id, name: g.name }])).values()];
}
