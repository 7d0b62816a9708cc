import type { TestStage } from '../scripts/test-stage.js';

/** Posts to the API of a stage. @returns the answer. @throws with the message if it is refused */
export async function post<T>(
  { address }: Pick<TestStage, 'address'>,
  path: string,
  body: unknown,
): Promise<T> {
  const response = await fetch(`${address}api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
}
