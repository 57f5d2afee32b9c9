/** Hands a text made on the page to the browser as a file; the name keeps only what every file system takes. */
export function saveText(name: string, text: string, type = 'text/csv'): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name.normalize('NFKD').replace(/[^A-Za-z0-9._-]+/g, '-');
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}
