/** Gives bytes to the browser to keep as a file. */
export function saveFile(bytes: Uint8Array, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes as BlobPart], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser reads it in its own time.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
