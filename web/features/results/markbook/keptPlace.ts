/** Where in a markbook somebody was: found again when they come back from a lane, or reload. */
const keyOf = (classId: string) => `ecoute-markbook-${classId}`;

/** A cell by what it is of: rows and columns may lie in another order by then. */
export interface KeptPlace {
  studentId: string;
  releaseId: string;
}

export function keepPlace(classId: string, place: KeptPlace): void {
  sessionStorage.setItem(keyOf(classId), `${place.studentId} ${place.releaseId}`);
}

/** Null where nobody was there yet in this tab. */
export function keptPlace(classId: string): KeptPlace | null {
  const [studentId, releaseId] = (sessionStorage.getItem(keyOf(classId)) ?? '').split(' ');
  return studentId && releaseId ? { studentId, releaseId } : null;
}
