/** Offer a file to be saved where this phone saves what it downloads. */
export function offerFile(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  window.setTimeout(() => {
    URL.revokeObjectURL(link.href);
  }, 60_000);
}
