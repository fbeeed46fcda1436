/** Lets the browser keep what is at an address as a file. */
export function downloadFrom(name: string, address: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}

/** Lets the browser keep a text as a file. */
export function download(name: string, type: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type }));
  downloadFrom(name, address);
  URL.revokeObjectURL(address);
}
