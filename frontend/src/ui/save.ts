/** Saves what lies at an address as a file of that name. */
export function save(address: string, name: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}

/** Saves bytes that are here as a file of that name. */
export function saveBytes(bytes: Blob, name: string): void {
  const address = URL.createObjectURL(bytes);
  save(address, name);
  URL.revokeObjectURL(address);
}
