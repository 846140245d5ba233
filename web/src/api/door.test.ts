import { expect, test } from 'vitest';
import { Door } from './door';

/** A call that is answered when it is told to be. */
function slow(said: string[], name: string) {
  let answer = () => {};
  const done = new Promise<void>((resolve) => (answer = resolve));
  const call = async () => {
    said.push(`${name} asked`);
    await done;
    said.push(`${name} answered`);
    return name;
  };
  return { call, answer };
}

const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

test('a session passes on after what was asked before, and before what is asked meanwhile', async () => {
  const door = new Door();
  const said: string[] = [];
  const [before, change, meanwhile] = ['before', 'change', 'meanwhile'].map((name) => slow(said, name));
  const all = [door.through(before!.call), door.alone(change!.call), door.through(meanwhile!.call)];
  await turn();
  expect(said).toEqual(['before asked']);
  before!.answer();
  await turn();
  expect(said).toEqual(['before asked', 'before answered', 'change asked']);
  change!.answer();
  meanwhile!.answer();
  expect(await Promise.all(all)).toEqual(['before', 'change', 'meanwhile']);
  expect(said.slice(3)).toEqual(['change answered', 'meanwhile asked', 'meanwhile answered']);
});

test('a change that fails opens the door again, and a call that hangs does not hold it shut', async () => {
  const door = new Door();
  void door.through(() => new Promise(() => {}));
  await expect(door.alone(() => Promise.reject(new Error('wrong PIN')), 5)).rejects.toThrow('wrong PIN');
  await door.opened();
  expect(await door.through(() => Promise.resolve(1))).toBe(1);
});
