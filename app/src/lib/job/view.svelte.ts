/** What of the open job is on the screen: its stage, the view of the board, and the sheet that lies over both. */
import type { ArtEditor, Place } from '$lib/art/editor.svelte';
import { STAGES, type Stage } from './stages';

export type BoardView = 'plan' | 'carved' | 'section';

/** What the plan can be told to show. */
interface PlanView {
  fit(): void;
  zoom(factor: number): void;
  lookAt(at: readonly [number, number]): void;
}

export class JobView {
  stage = $state<Stage>('artwork');
  board = $state<BoardView>('plan');
  /** The plan, while it is on the screen. */
  plan = $state.raw<PlanView>();
  /** The cut whose fields are open. */
  cut = $state<string | null>(null);
  sheet = $state<'finder' | 'trial' | 'history' | 'layout' | 'sum' | null>(null);
  /** The sum that is shown. */
  sum = $state('');
  /** What would be faster is asked for, and not looked for yet. */
  faster = $state(false);
  /** The list of commands. */
  palette = $state(false);
  private readonly editor: ArtEditor;
  private readonly onrecord: () => void;

  /**
   * @param asked the stage an address asks for
   * @param onrecord called whenever the record comes up
   */
  constructor(editor: ArtEditor, asked: string | null, onrecord: () => void) {
    this.editor = editor;
    this.onrecord = onrecord;
    this.stage = STAGES.find(({ id }) => id === asked)?.id ?? 'artwork';
  }

  showSum = (id: string): void => {
    this.sum = id;
    this.sheet = 'sum';
  };

  get title(): string {
    return STAGES.find(({ id }) => id === this.stage)!.title;
  }

  /** What comes after the stages that are drawn and looked at; set-up and run say themselves what is next. */
  get next(): (typeof STAGES)[number] | null {
    const at = STAGES.findIndex(({ id }) => id === this.stage);
    return at < STAGES.findIndex(({ id }) => id === 'program') ? STAGES[at + 1] : null;
  }

  go = (stage: Stage): void => {
    this.stage = stage;
    this.editor.shown = null;
    if (stage === 'proof') this.board = 'carved';
    if (stage === 'artwork' || stage === 'board' || stage === 'setup') this.board = 'plan';
    if (stage === 'record') this.onrecord();
  };

  /** Goes to the list of what was found. */
  showFindings = (): void => {
    if (this.stage !== 'proof') this.go('proof');
    requestAnimationFrame(() => document.getElementById('found')?.scrollIntoView({ block: 'start' }));
  };

  /** Goes to what would make it faster. */
  showFaster = (): void => {
    if (this.stage !== 'proof') this.go('proof');
    this.faster = true;
    requestAnimationFrame(() => document.getElementById('faster')?.scrollIntoView({ block: 'start' }));
  };

  /** Goes to where a finding is on the board. */
  showWhere = (found: Place): void => {
    if (!found.at) {
      this.cut = found.cut ?? null;
      return this.go('cuts');
    }
    this.board = 'plan';
    this.editor.shown = found;
    requestAnimationFrame(() => this.plan?.lookAt(found.at!));
  };
}
