/** Text from a project as a part of a regular expression. */
export function literally(text: string): string {
  return text.replace(/[^\w]/g, '\\$&');
}
