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
import { JOB } from '$lib/labels/job';
import { COMMON } from '$lib/labels/common';

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
  session.edit(other === 'in' ? JOB.showInches : JOB.showMillimetres, (d) => void (d.units = other));
}

/** The list as it is now: labels follow what can be undone and what is shown. */
export function commandsOf({ session, editor, view, proof, machine, choose, list, open }: AtHand): Command[] {
  return [
    ...STAGES.map(({ id, title }, i) => ({
      id,
      label: JOB.goTo(title),
      words: STAGE_WORDS[id],
      bind: `Alt+Digit${i + 1}`,
      always: true,
      run: () => view.go(id),
    })),
    { id: 'v-plan', label: JOB.showThePlan, words: ['top view', 'toolpath'], bind: 'p', run: () => (view.board = 'plan') },
    { id: 'v-carved', label: JOB.showTheCarvedBoard, words: ['simulate', 'preview', '3D'], bind: 'c', run: () => (view.board = 'carved') },
    { id: 'v-section', label: JOB.showASection, words: ['profile', 'cross-section'], bind: 's', run: () => (view.board = 'section') },
    { id: 'undo', label: session.undoLabel ? JOB.undoEdit(session.undoLabel) : COMMON.undo, bind: '$mod+z', settled: true, run: () => session.undo() },
    {
      id: 'redo',
      label: session.redoLabel ? JOB.redoEdit(session.redoLabel) : JOB.redo,
      bind: '$mod+Shift+z',
      also: ['$mod+y'],
      settled: true,
      run: () => session.redo(),
    },
    { id: 'save', label: JOB.saveNow, bind: '$mod+s', always: true, run: () => void session.saveNow() },
    { id: 'units', label: session.job.units === 'mm' ? JOB.showInches : JOB.showMillimetres, bind: 'u', run: () => switchUnits(session) },
    {
      id: 'sums',
      label: JOB.sumsOfTheShop,
      words: ['calculator', 'depth for a width', 'chip load', 'board feet', 'dpi', 'kerf', 'fraction', 'gauge', 'spacing', 'slope'],
      run: () => open('/sums'),
    },
    { id: 'day', label: JOB.planOfTheDay, words: ['schedule', 'calendar', 'due', 'when', 'today'], run: () => open('/day') },
    { id: 'theme', label: prefs.mode === 'light' ? COMMON.darkScreen : COMMON.lightScreen, run: () => prefs.toggleMode() },
    { id: 'plan', label: JOB.planAgain, run: () => session.replan() },
    { id: 'finder', label: COMMON.findTheRightBit, words: ['tool', 'diameter', 'angle', 'size'], run: () => (view.sheet = 'finder') },
    { id: 'trial', label: COMMON.trialBoard, words: ['test cut', 'sample', 'feeds'], run: () => (view.sheet = 'trial') },
    {
      id: 'difference',
      label: COMMON.compareWithTheDrawing,
      words: ['difference', 'over-cut', 'check'],
      run: () => (view.go('proof'), void proof.showDifference(true)),
    },
    { id: 'measure', label: JOB.measureOnTheCarvedBoard, run: () => ((view.board = 'carved'), (proof.measuring = true)) },
    {
      id: 'layout',
      label: JOB.layThePiecesOutOn,
      words: ['nest', 'fit to the plate', 'copies', 'arrange', 'utilisation'],
      run: () => (view.sheet = 'layout'),
    },
    { id: 'history', label: JOB.historyOfTheJob, words: ['versions', 'revisions', 'restore', 'go back'], run: () => (view.sheet = 'history') },
    { id: 'template', label: JOB.saveAsATemplate, words: ['standard', 'start from', 'again'], run: () => void keepAsTemplate(session) },
    { id: 'export', label: JOB.exportTheJobAsA, words: ['download', 'save', 'JSON'], run: () => exportJob(session) },
    {
      id: 'file',
      label: JOB.importADrawingAPicture,
      words: ['open', 'SVG', 'DXF', 'PNG', 'trace', 'typeface'],
      bind: '$mod+o',
      always: true,
      run: choose,
    },
    { id: 'list', label: COMMON.platesFromAList, words: ['CSV', 'names', 'batch', 'merge'], run: list },
    ...drawingCommands(editor, view),
    { id: 'hold', label: JOB.holdTheMachine, words: ['pause', 'feed hold', 'stop'], hint: JOB.spaceOnRun, run: () => void machine.send({ do: 'hold' }) },
    { id: 'keys', label: JOB.showEveryCommandAndIts, bind: 'Shift+?', run: () => (view.palette = true) },
  ];
}

/** Keeps the job as it stands, for others to be begun from. */
async function keepAsTemplate(session: JobSession): Promise<void> {
  await session.saveNow();
  const kept = await ask(`/api/jobs/${session.id}`, 'POST', { as: 'template' });
  toaster.create({
    title: kept.ok ? JOB.isSavedAsATemplate(session.job.name) : JOB.itCouldNotBeSaved,
    description: kept.ok ? JOB.newSignOffersItFrom : kept.why,
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
  const copy = () => void (editor.selection.size && editor.edit(COMMON.copy, { do: 'rows', ids: editor.ids, columns: 2, rows: 1, dx: 10, dy: 0 }));
  const centre = async () => {
    for (const edge of ['middle', 'centre'] as const) await editor.edit(COMMON.centreOnTheBoard, { do: 'align', ids: editor.ids, edge, to: 'board' });
  };
  return [
    { id: 't-select', label: JOB.toolSelectAndMove, bind: 'v', run: take('select') },
    { id: 't-nodes', label: JOB.toolNodesOfAPath, bind: 'n', run: take('nodes') },
    { id: 't-line', label: JOB.toolDrawALine, bind: 'l', run: take('line') },
    { id: 't-trim', label: JOB.toolTrimALine, words: ['cut off', 'shorten', 'crossing'], bind: 't', run: take('trim') },
    { id: 't-extend', label: JOB.toolExtendALine, words: ['until it meets', 'lengthen'], bind: 'e', run: take('extend') },
    { id: 't-split', label: JOB.toolSplitALineWhere, words: ['break', 'cut', 'intersection'], run: take('split') },
    { id: 't-measure', label: JOB.toolMeasure, words: ['distance', 'ruler', 'length'], bind: 'm', run: take('measure') },
    { id: 't-bit', label: JOB.toolTryABit, words: ['diameter', 'kerf', 'fits'], bind: 'b', run: take('bit') },
    { id: 'a-all', label: JOB.selectEverything, bind: '$mod+a', run: () => editor.selectAll() },
    {
      id: 'a-clear',
      label: JOB.selectNothing,
      words: ['deselect', 'clear', 'let go'],
      bind: 'Escape',
      run: () => {
        editor.select([]);
        editor.shown = null;
        editor.hand.tool = 'select';
      },
    },
    { id: 'a-copy', label: JOB.copyWhatIsSelected, words: ['duplicate'], bind: '$mod+d', run: copy },
    {
      id: 'a-repeat',
      label: editor.last ? JOB.repeat(editor.last.label) : JOB.repeatWhatWasLastTyped,
      words: ['again', 'once more', 'same for this'],
      bind: 'r',
      run: () => editor.repeat(),
    },
    { id: 'a-delete', label: JOB.deleteWhatIsSelected, words: ['remove'], bind: 'Delete', also: ['Backspace'], run: () => editor.remove() },
    { id: 'a-group', label: COMMON.group, bind: '$mod+g', run: () => editor.group() },
    { id: 'a-ungroup', label: COMMON.ungroup, bind: '$mod+Shift+g', run: () => editor.ungroup() },
    {
      id: 'a-unite',
      label: JOB.uniteWhatIsSelected,
      words: ['weld', 'merge', 'join'],
      run: () => void editor.edit(JOB.unite, { do: 'unite', ids: editor.ids }),
    },
    { id: 'a-middle', label: JOB.centreWhatIsSelectedOn, words: ['align', 'middle'], run: () => void centre() },
    { id: 'a-order', label: editor.showOrder ? JOB.hideTheOrder : COMMON.showTheOrder, run: () => (editor.showOrder = !editor.showOrder) },
    { id: 'a-next', label: JOB.selectTheNextThing, bind: ']', run: () => step(editor, 1) },
    { id: 'a-before', label: JOB.selectTheThingBefore, bind: '[', run: () => step(editor, -1) },
  ];
}

/** Goes through the things by keyboard. */
function step(editor: ArtEditor, by: number): void {
  const things = editor.job.itemOrder.filter((id) => !editor.isLocked(id));
  if (things.length === 0) return;
  const now = things.findIndex((id) => editor.selection.has(id));
  editor.select([things[(now + by + things.length) % things.length]]);
}
