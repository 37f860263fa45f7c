declare module 'escape-html' {
  /** Text as it stands between tags and in quoted attributes of HTML. */
  export default function escapeHtml(text: string): string;
}
