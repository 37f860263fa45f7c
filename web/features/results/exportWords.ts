import type { ExportKind } from '@ecoute/contract/exports';

/** What can be taken along, and what it is for. */
export const EXPORT_WORDS: Record<ExportKind, { name: string; says: string }> = {
  workbook: {
    name: 'Workbook (XLSX)',
    says: 'Scores, levels and measured figures, a sheet each; numbers and days are real ones.',
  },
  tables: { name: 'Tables (CSV in a ZIP)', says: 'The same for any other program.' },
  gradebook: {
    name: 'Gradebook (OneRoster CSV 1.2)',
    says: 'For the school’s own system: what students have seen, what is missing, who is excused.',
  },
  sheets: { name: 'Feedback sheets, one PDF', says: 'Every feedback that is given, to print in one go.' },
  talk: {
    name: 'To hear offline (ZIP)',
    says: 'A page in threads that plays without a network, every sound and picture, and a table (CSV).',
  },
  talkSound: {
    name: 'One sound with chapters (M4A and Matroska in a ZIP)',
    says: 'In the order of threads, a chapter for each contribution; the chapters as WebVTT as well.',
  },
  sheetFiles: { name: 'Feedback sheets, a PDF each (ZIP)', says: 'To hand on one by one.' },
};
