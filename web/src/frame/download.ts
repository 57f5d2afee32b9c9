import { fileStem } from '#core/exchange';

/** Hands a text made on the page to the browser as a file. */
export const saveText = (name: string, text: string, type = 'text/csv'): void => saveFile(name, new Blob([text], { type })); // prettier-ignore

/** Hands a file to the browser; of its name, what every file system takes. */
export function saveFile(name: string, file: Blob): void {
  const url = URL.createObjectURL(file);
  const link = document.createElement('a');
  link.href = url;
  const [, stem, ending] = /^(.*?)((?:\.[A-Za-z0-9]{1,8})?)$/s.exec(name)!;
  link.download = fileStem(stem) + ending;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}
