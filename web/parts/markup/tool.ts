/** What a pointer does on a page that is drawn on. */
export type Tool = 'pen' | 'text' | 'erase';
