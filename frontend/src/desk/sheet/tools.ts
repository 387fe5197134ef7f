// What one can do on a sheet: how many picks it takes, and what it says meanwhile.
export type Tool =
  | 'pick'
  | 'count'
  | 'run'
  | 'area'
  | 'box'
  | 'circle'
  | 'void'
  | 'scale'
  | 'proof'
  | 'along'
  | 'up'
  | 'detail'
  | 'place'
  | 'spot'
  | 'tie'
  | 'move'
  | 'copy'

interface About {
  /** Ends by itself at so many picks; 0 for Enter. */
  picks: number
  /** Whether it draws a ring, and so fills as it goes. */
  ring: boolean
  begin: string
  go?: string
}
export const about: Record<Tool, About> = {
  pick: { picks: 0, ring: false, begin: '' },
  count: { picks: 0, ring: false, begin: 'Click each one. Enter ends.' },
  run: { picks: 0, ring: false, begin: 'Click along the run. Enter ends; a click on its start closes it.' },
  area: { picks: 0, ring: true, begin: 'Click the corners of the area. Enter ends.' },
  void: { picks: 0, ring: true, begin: 'Click the corners of the void. Enter ends.' },
  box: { picks: 2, ring: true, begin: 'Pick one corner.', go: 'Pick the corner across, or type its length.' },
  circle: {
    picks: 2,
    ring: true,
    begin: 'Pick the centre.',
    go: 'Pick a point of the edge, or type the radius.',
  },
  scale: { picks: 2, ring: false, begin: 'Pick one end of a known length.', go: 'Pick the other end.' },
  proof: {
    picks: 2,
    ring: false,
    begin: 'Pick one end of a second known length.',
    go: 'Pick the other end.',
  },
  along: {
    picks: 2,
    ring: false,
    begin: 'Pick one end of a known length across the sheet.',
    go: 'Pick the other end.',
  },
  up: {
    picks: 2,
    ring: false,
    begin: 'Pick one end of a known length up the sheet.',
    go: 'Pick the other end.',
  },
  detail: { picks: 2, ring: true, begin: 'Pick one corner of the detail.', go: 'Pick the corner across.' },
  place: { picks: 1, ring: false, begin: 'Click where the totals are to stand.' },
  spot: { picks: 1, ring: false, begin: 'Click the point.' },
  tie: {
    picks: 2,
    ring: false,
    begin: 'Pick a point that both revisions have.',
    go: 'Pick a second one, far from the first.',
  },
  move: {
    picks: 2,
    ring: false,
    begin: 'Pick a point of the figure.',
    go: 'Pick where that point is to be, or type how far.',
  },
  copy: {
    picks: 2,
    ring: false,
    begin: 'Pick a point of the figure.',
    go: 'Pick where that point is in the next bay, or type how far.',
  },
}
/** The tools that measure, and the key of each. */
export const measuring: { tool: Tool; name: string; key: string }[] = [
  { tool: 'count', name: 'Count', key: 'C' },
  { tool: 'run', name: 'Run', key: 'R' },
  { tool: 'area', name: 'Area', key: 'A' },
  { tool: 'box', name: 'Box', key: 'B' },
  { tool: 'circle', name: 'Circle', key: 'I' },
  { tool: 'void', name: 'Void', key: 'V' },
]
export const byKey: Record<string, Tool> = {
  ...Object.fromEntries(measuring.map((each) => [each.key.toLowerCase(), each.tool])),
  k: 'scale',
  m: 'move',
  d: 'copy',
}
