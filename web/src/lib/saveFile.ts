/** Hands a text to the browser to save as a file. */
export function saveFile(name: string, text: string, type: string) {
  const address = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[\\/:*?"<>|]+/g, ' ').trim();
  link.click();
  URL.revokeObjectURL(address);
}
