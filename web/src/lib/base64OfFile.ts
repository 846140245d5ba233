import { ApiProblem } from '../api/problem';

/** A file's bytes in letters; the server finds out what they spell. Throws an ApiProblem where it is too large. */
export async function base64OfFile(file: File, most: number): Promise<string> {
  if (file.size > most)
    throw new ApiProblem(422, [
      {
        code: 'too_large',
        field: 'file',
        message: `${file.name} is too large: ${(file.size / 1e6).toFixed(1)} MB.`,
        remedy: `Import at most ${(most / 1e6).toFixed(1)} MB at a time.`,
        at: null,
        choices: [],
      },
    ]);
  const bytes = new Uint8Array(await file.arrayBuffer());
  let letters = '';
  for (let at = 0; at < bytes.length; at += 8192) letters += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(letters);
}
