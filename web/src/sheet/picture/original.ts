import { LRUCache } from 'lru-cache';

/** Originals that were asked for last; a large picture is asked for in parts. */
const kept = new LRUCache<string, Promise<Blob | null>>({ max: 3 });

/** A received file as it came; null where it cannot be fetched. */
export function originalOf(project: string, file: string): Promise<Blob | null> {
  const key = `${project} ${file}`;
  let found = kept.get(key);
  if (!found) {
    found = fetch(`/api/projects/${project}/files/${file}`).then((r) => (r.ok ? r.blob() : null), () => null); // prettier-ignore
    kept.set(key, found);
    void found.then((blob) => blob ?? kept.delete(key));
  }
  return found;
}
