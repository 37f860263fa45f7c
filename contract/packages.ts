/** What the bringing in of an assessment package reports, line by line. */
export interface PackageReport {
  /** The new assessment; null when anything was refused, for then nothing was made. */
  assessmentId: string | null;
  title: string | null;
  arrived: string[];
  adapted: string[];
  refused: string[];
}
