/** Offers a text to be kept as a file. @param name what the file is called; what no file name holds is left out */
export function saveFile(text: string, type: string, name: string, ending: string): void {
  const link = window.document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = `${name.replace(/[^\p{L}\p{N} _-]/gu, '').slice(0, 60) || 'file'}.${ending}`;
  link.click();
  URL.revokeObjectURL(link.href);
}
