/** HTML of two versions, so that only what anybody can see of it differs. */

/** Without what only says where something stands in a tree of components: markers, and ids that the framework makes. */
export function normalHtml(html: string): string {
  const ids = new Map<string, string>();
  return (
    html
      .replace(/<!--[\s\S]*?-->/g, '')
      .replace(/ data-v-[0-9a-f]+(?:-s)?(?:="")?/g, '')
      // When the server read a file.
      .replace(/[?&]t=\d{13}\b/g, '')
      // The order of classes means nothing.
      .replace(
        / class="([^"]*)"/g,
        (_, list: string) => ` class="${list.split(/\s+/).filter(Boolean).sort().join(' ')}"`,
      )
      .replace(/(?::r[0-9a-z]+:|_[rR]_[0-9a-z]+_|\bv-\d+(?:-\d+)*\b)/g, (id) => {
        if (!ids.has(id)) ids.set(id, `id-${ids.size}`);
        return ids.get(id)!;
      })
  );
}
