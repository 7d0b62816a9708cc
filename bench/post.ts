import type { TestStage } from '../scripts/test-stage.js';

/** Posts to the API of a stage. @returns what it answers. @throws with its words where it refuses */
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
