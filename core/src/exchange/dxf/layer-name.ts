/** Names that R12 readers take: capitals, digits, $ - _, at most 31. */
export const layerName = (name: string): string =>
  name
    .toUpperCase()
    .replace(/[^A-Z0-9$_-]+/g, '-')
    .slice(0, 31) || '0';
