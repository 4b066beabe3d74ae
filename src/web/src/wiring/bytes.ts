/** As text that a request can hold. */
export function bytesOf(file: File): Promise<string> {
  return new Promise((found, failed) => {
    const reader = new FileReader();
    reader.onload = () => found(typeof reader.result === 'string' ? reader.result.replace(/^[^,]*,/, '') : '');
    reader.onerror = () => failed(reader.error ?? new Error('The file cannot be read.'));
    reader.readAsDataURL(file);
  });
}
