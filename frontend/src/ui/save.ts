/** Saves what lies at an address as a file of that name. */
export function save(address: string, name: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}
