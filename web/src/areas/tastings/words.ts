/** What a benchmark may be. */
export const WHAT: Record<string, string> = {
  bought: 'bought',
  'another bar': "another bar's",
  ours: 'our own of before',
};

/** How it tastes against ours; the empty one says nothing. */
export const THAN_OURS = [
  { value: '', label: '—' },
  { value: '-2', label: 'clearly less than ours' },
  { value: '-1', label: 'a little less' },
  { value: '0', label: 'the same' },
  { value: '1', label: 'a little more' },
  { value: '2', label: 'clearly more than ours' },
];
