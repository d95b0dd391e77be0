/** Everything that can be done to the open job by name or key. */
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { BoardHand } from '$lib/art/hand.svelte';
import type { MachineLink } from '$lib/machine.svelte';
import type { ProofDesk } from '$lib/stages/proof/desk.svelte';
import type { Command } from '$lib/ui/commands';
import { saveFile } from '$lib/ui/files';
import { ask } from '$lib/ui/post';
import { toaster } from '$lib/ui/toasts';
import { prefs } from '$lib/ui/prefs.svelte';
import type { JobSession } from './session.svelte';
import { STAGES, type Stage } from './stages';
import type { JobView } from './view.svelte';

/** What people look for on a stage. */
const STAGE_WORDS: Record<Stage, readonly string[]> = {
  board: ['stock', 'material', 'size', 'thickness', 'clamps', 'datum'],
  artwork: ['text', 'font', 'letters', 'shapes', 'draw'],
  cuts: ['toolpath', 'passes', 'depth', 'feed', 'speed', 'step-over', 'tabs'],
  proof: ['simulate', 'preview', 'findings', 'time', 'faster'],
  program: ['G-code', 'export', 'release', 'sheet'],
  setup: ['zero', 'origin', 'home', 'probe', 'touch off', 'jog'],
  run: ['start', 'cut', 'resume', 'stop', 'override'],
  record: ['history', 'log', 'photos', 'notes'],
};

/** What the commands of a job work on. */
export interface AtHand {
  session: JobSession;
  editor: ArtEditor;
  view: JobView;
  proof: ProofDesk;
  machine: MachineLink;
  /** Asks for a file to bring in. */
  choose(): void;
  /** Opens an empty list of plates. */
  list(): void;
  /** Opens a page of the shop. */
  open: (page: '/sums' | '/day') => void;
}

export function switchUnits(session: JobSession): void {
  const other = session.job.units === 'mm' ? 'in' : 'mm';
  session.edit(other === 'in' ? 'Show inches' : 'Show millimetres', (d) => void (d.units = other));
}

/** The list as it is now: labels follow what can be undone and what is shown. */
export function commandsOf({ session, editor, view, proof, machine, choose, list, open }: AtHand): Command[] {
  return [
    ...STAGES.map(({ id, title }, i) => ({
      id,
      label: `Go to ${title}`,
      words: STAGE_WORDS[id],
      bind: `Alt+Digit${i + 1}`,
      always: true,
      run: () => view.go(id),
    })),
    { id: 'v-plan', label: 'Show the plan', words: ['top view', 'toolpath'], bind: 'p', run: () => (view.board = 'plan') },
    { id: 'v-carved', label: 'Show the carved board', words: ['simulate', 'preview', '3D'], bind: 'c', run: () => (view.board = 'carved') },
    { id: 'v-section', label: 'Show a section', words: ['profile', 'cross-section'], bind: 's', run: () => (view.board = 'section') },
    { id: 'undo', label: session.undoLabel ? `Undo: ${session.undoLabel}` : 'Undo', bind: '$mod+z', settled: true, run: () => session.undo() },
    {
      id: 'redo',
      label: session.redoLabel ? `Redo: ${session.redoLabel}` : 'Redo',
      bind: '$mod+Shift+z',
      also: ['$mod+y'],
      settled: true,
      run: () => session.redo(),
    },
    { id: 'save', label: 'Save now', bind: '$mod+s', always: true, run: () => void session.saveNow() },
    { id: 'units', label: session.job.units === 'mm' ? 'Show inches' : 'Show millimetres', bind: 'u', run: () => switchUnits(session) },
    {
      id: 'sums',
      label: 'Sums of the shop',
      words: ['calculator', 'depth for a width', 'chip load', 'board feet', 'dpi', 'kerf', 'fraction', 'gauge', 'spacing', 'slope'],
      run: () => open('/sums'),
    },
    { id: 'day', label: 'Plan of the day', words: ['schedule', 'calendar', 'due', 'when', 'today'], run: () => open('/day') },
    { id: 'theme', label: prefs.mode === 'light' ? 'Dark screen' : 'Light screen', run: () => prefs.toggleMode() },
    { id: 'plan', label: 'Plan again', run: () => session.replan() },
    { id: 'finder', label: 'Find the right bit', words: ['tool', 'diameter', 'angle', 'size'], run: () => (view.sheet = 'finder') },
    { id: 'trial', label: 'Trial board', words: ['test cut', 'sample', 'feeds'], run: () => (view.sheet = 'trial') },
    {
      id: 'difference',
      label: 'Compare with the drawing',
      words: ['difference', 'over-cut', 'check'],
      run: () => (view.go('proof'), void proof.showDifference(true)),
    },
    { id: 'measure', label: 'Measure on the carved board', run: () => ((view.board = 'carved'), (proof.measuring = true)) },
    {
      id: 'layout',
      label: 'Lay the pieces out on the sheet',
      words: ['nest', 'fit to the plate', 'copies', 'arrange', 'utilisation'],
      run: () => (view.sheet = 'layout'),
    },
    { id: 'history', label: 'History of the job', words: ['versions', 'revisions', 'restore', 'go back'], run: () => (view.sheet = 'history') },
    { id: 'template', label: 'Keep as a template', words: ['standard', 'start from', 'again'], run: () => void keepAsTemplate(session) },
    { id: 'export', label: 'Export the job as a file', words: ['download', 'save', 'JSON'], run: () => exportJob(session) },
    {
      id: 'file',
      label: 'Import a drawing, a picture or a font',
      words: ['open', 'SVG', 'DXF', 'PNG', 'trace', 'typeface'],
      bind: '$mod+o',
      always: true,
      run: choose,
    },
    { id: 'list', label: 'Plates from a list', words: ['CSV', 'names', 'batch', 'merge'], run: list },
    ...drawingCommands(editor, view),
    { id: 'hold', label: 'Hold the machine', words: ['pause', 'feed hold', 'stop'], hint: 'Space, on Run', run: () => void machine.send({ do: 'hold' }) },
    { id: 'keys', label: 'Show every command and its keys', bind: 'Shift+?', run: () => (view.palette = true) },
  ];
}

/** Keeps the job as it stands, for others to be begun from. */
async function keepAsTemplate(session: JobSession): Promise<void> {
  await session.saveNow();
  const kept = await ask(`/api/jobs/${session.id}`, 'POST', { as: 'template' });
  toaster.create({
    title: kept.ok ? `“${session.job.name}” is kept as a template` : 'It could not be kept',
    description: kept.ok ? 'New sign offers it from now on.' : kept.why,
    type: kept.ok ? 'success' : 'error',
  });
}

function exportJob({ job }: JobSession): void {
  saveFile(`${job.name.replace(/[^\w -]/g, '')}.json`, JSON.stringify(job, null, 2), 'application/json');
}

/** Tools, and what is done to the things selected. */
function drawingCommands(editor: ArtEditor, view: JobView): Command[] {
  const take = (tool: BoardHand['tool']) => () => {
    view.go('artwork');
    if (tool !== 'nodes' || editor.only?.kind === 'path') editor.hand.tool = tool;
    else editor.note = { text: 'Nodes are those of one free path: select one, or make free paths of what is selected first.', bad: true };
  };
  const copy = () => void (editor.selection.size && editor.edit('Copy', { do: 'rows', ids: editor.ids, columns: 2, rows: 1, dx: 10, dy: 0 }));
  const centre = async () => {
    for (const edge of ['middle', 'centre'] as const) await editor.edit('Centre on the board', { do: 'align', ids: editor.ids, edge, to: 'board' });
  };
  return [
    { id: 't-select', label: 'Tool: select and move', bind: 'v', run: take('select') },
    { id: 't-nodes', label: 'Tool: nodes of a path', bind: 'n', run: take('nodes') },
    { id: 't-line', label: 'Tool: draw a line', bind: 'l', run: take('line') },
    { id: 't-trim', label: 'Tool: trim a line', words: ['cut off', 'shorten', 'crossing'], bind: 't', run: take('trim') },
    { id: 't-extend', label: 'Tool: extend a line', words: ['until it meets', 'lengthen'], bind: 'e', run: take('extend') },
    { id: 't-split', label: 'Tool: split a line where it is crossed', words: ['break', 'cut', 'intersection'], run: take('split') },
    { id: 't-measure', label: 'Tool: measure', words: ['distance', 'ruler', 'length'], bind: 'm', run: take('measure') },
    { id: 't-bit', label: 'Tool: try a bit', words: ['diameter', 'kerf', 'fits'], bind: 'b', run: take('bit') },
    { id: 'a-all', label: 'Select everything', bind: '$mod+a', run: () => editor.selectAll() },
    {
      id: 'a-clear',
      label: 'Select nothing',
      words: ['deselect', 'clear', 'let go'],
      bind: 'Escape',
      run: () => {
        editor.select([]);
        editor.shown = null;
        editor.hand.tool = 'select';
      },
    },
    { id: 'a-copy', label: 'Copy what is selected', words: ['duplicate'], bind: '$mod+d', run: copy },
    {
      id: 'a-repeat',
      label: editor.last ? `Repeat: ${editor.last.label}` : 'Repeat what was last typed or done',
      words: ['again', 'once more', 'same for this'],
      bind: 'r',
      run: () => editor.repeat(),
    },
    { id: 'a-delete', label: 'Delete what is selected', words: ['remove'], bind: 'Delete', also: ['Backspace'], run: () => editor.remove() },
    { id: 'a-group', label: 'Group', bind: '$mod+g', run: () => editor.group() },
    { id: 'a-ungroup', label: 'Ungroup', bind: '$mod+Shift+g', run: () => editor.ungroup() },
    {
      id: 'a-unite',
      label: 'Unite what is selected',
      words: ['weld', 'merge', 'join'],
      run: () => void editor.edit('Unite', { do: 'unite', ids: editor.ids }),
    },
    { id: 'a-middle', label: 'Centre what is selected on the board', words: ['align', 'middle'], run: () => void centre() },
    { id: 'a-order', label: editor.showOrder ? 'Hide the order' : 'Show the order', run: () => (editor.showOrder = !editor.showOrder) },
    { id: 'a-next', label: 'Select the next thing', bind: ']', run: () => step(editor, 1) },
    { id: 'a-before', label: 'Select the thing before', bind: '[', run: () => step(editor, -1) },
  ];
}

/** Goes through the things by keyboard. */
function step(editor: ArtEditor, by: number): void {
  const things = editor.job.itemOrder.filter((id) => !editor.isLocked(id));
  if (things.length === 0) return;
  const now = things.findIndex((id) => editor.selection.has(id));
  editor.select([things[(now + by + things.length) % things.length]]);
}
