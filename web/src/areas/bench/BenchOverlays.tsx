import { useQueryClient } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { FormulaOut, MadeHere, MethodDocument, VersionCard, WalkReport } from '../../api/types';
import { StartDialog } from '../batches/StartDialog';
import { AimDrawer } from './AimDrawer';
import { ConflictDialog } from './ConflictDialog';
import { CostDrawer } from './CostDrawer';
import { DrinkDrawer } from './DrinkDrawer';
import { patchStage } from './edits';
import { HoldsDrawer } from './HoldsDrawer';
import { NewerDrawer } from './NewerDrawer';
import { ScaleDrawer } from './ScaleDrawer';
import { SwapDrawer, type Swapping } from './SwapDrawer';
import type { DraftOf } from '../../lib/useDraft';
import { UsedInDrawer } from './UsedInDrawer';
import { VersionDialog } from '../../parts/VersionDialog';
import { type Asked, WaysDrawer } from './WaysDrawer';

/** What lies over the bench: one thing at a time. */
export type Overlay =
  | { over: 'ways'; asked: Asked }
  | { over: 'substitute'; swapping: Swapping }
  | { over: 'holds'; stage: string }
  | { over: 'newer'; made: MadeHere }
  | { over: 'used' | 'cost' }
  | { over: 'scale' | 'drink' | 'aim' | 'version' | 'start' };

interface BenchOverlaysProps {
  id: string;
  overlay: Overlay | null;
  draft: DraftOf<MethodDocument>;
  report: WalkReport | null;
  readOnly: boolean;
  /** Readings that are to stay when another is typed over. */
  held: string[];
  /** The benchmark that is aimed for, where the address names one. */
  benchmark: string | null;
  /** How many times its version the last batch was, to cook as much again. */
  cookedTimes: number | undefined;
  /** Saves the draft and gives its number. */
  save: () => Promise<number>;
  onClose: () => void;
  /** A document was taken in place of the draft, with what that is called. */
  onTaken: (title: string, document: MethodDocument) => void;
  onVersion: (version: VersionCard) => void;
}

/** The drawers and dialogs of the bench. */
export function BenchOverlays({
  id,
  overlay,
  draft,
  report,
  readOnly,
  held,
  benchmark,
  cookedTimes,
  save,
  onClose,
  onTaken,
  onVersion,
}: BenchOverlaysProps) {
  const queryClient = useQueryClient();
  const { document } = draft;
  const asked = overlay?.over === 'ways' ? overlay.asked : null;
  const holding = overlay?.over === 'holds' ? overlay.stage : null;
  const take = (edit: string, title: string, next: MethodDocument) => {
    draft.edit(edit, () => next);
    onTaken(title, next);
    onClose();
  };
  return (
    <>
      {overlay?.over === 'cost' && (
        <CostDrawer document={document} formula={draft.base > 0 ? id : null} onClose={onClose} />
      )}
      <WaysDrawer
        asked={asked}
        held={report?.readings.filter((each) => held.includes(each.id) && each.id !== asked?.reading) ?? []}
        document={document}
        readOnly={readOnly}
        onClose={onClose}
        onTake={(way) => take(`way.${way.id}`, way.title, way.document)}
      />
      <DrinkDrawer opened={overlay?.over === 'drink'} document={document} onClose={onClose} />
      <SwapDrawer
        swapping={overlay?.over === 'substitute' ? overlay.swapping : null}
        document={document}
        readings={report?.readings ?? []}
        readOnly={readOnly}
        onClose={onClose}
        onTake={(way) => take(`swap.${way.id}`, way.title, way.document)}
      />
      <HoldsDrawer
        stage={holding}
        document={document}
        readOnly={readOnly}
        onClose={onClose}
        onTake={(where) => {
          if (holding)
            draft.edit(`${holding}.where`, patchStage(holding, { where, ...(where === 'hob' ? {} : { at_c: null }) }));
          onClose();
        }}
      />
      <AimDrawer
        opened={overlay?.over === 'aim' && report !== null}
        start={benchmark}
        document={document}
        titles={titlesOf(report)}
        readOnly={readOnly}
        onClose={onClose}
        onTake={(next, words) => take('aim', words, next)}
      />
      <NewerDrawer
        made={overlay?.over === 'newer' ? overlay.made : null}
        document={document}
        report={report}
        readOnly={readOnly}
        onClose={onClose}
        onTake={(next, words) => take('newer', words, next)}
      />
      <UsedInDrawer id={id} opened={overlay?.over === 'used'} onClose={onClose} />
      <StartDialog opened={overlay?.over === 'start'} formula={id} times={cookedTimes} onClose={onClose} />
      <VersionDialog
        opened={overlay?.over === 'version'}
        onClose={onClose}
        onKeep={async (note) =>
          answer(
            client.POST('/api/v1/formulas/{formula_id}/versions', {
              params: { path: { formula_id: id } },
              body: { draft: await save(), note },
            }),
          )
        }
        onKept={(made) => {
          void queryClient.invalidateQueries({ queryKey: keys.versions(id) });
          onVersion(made);
          onClose();
        }}
      >
        A version never changes: it keeps this kitchen and these ingredients. What you change later is a new draft.
      </VersionDialog>
      {report && (
        <ScaleDrawer
          opened={overlay?.over === 'scale'}
          document={document}
          formula={id}
          report={report}
          readOnly={readOnly}
          onClose={onClose}
          onTake={(next, words) => take('scale', words, next)}
        />
      )}
    </>
  );
}

interface SavedByAnotherProps {
  theirs: FormulaOut | null;
  message: string;
  draft: DraftOf<MethodDocument>;
  onForget: () => void;
  onSave: (base: number) => void;
}

/** Somebody saved this formula since: mine, or theirs. */
export function SavedByAnother({ theirs, message, draft, onForget, onSave }: SavedByAnotherProps) {
  return (
    <ConflictDialog
      theirs={theirs}
      message={message}
      onClose={onForget}
      onKeepMine={() => {
        const at = theirs?.draft ?? draft.base;
        draft.rebase(at);
        onSave(at);
      }}
      onTakeTheirs={() => {
        if (theirs) draft.take(theirs.document, theirs.draft);
        onForget();
      }}
    />
  );
}

/** What lines and stages are called, by id. */
function titlesOf(report: WalkReport | null): Record<string, string> {
  return Object.fromEntries([
    ...(report?.stages ?? []).map((stage) => [stage.id, stage.name]),
    ...(report?.lines ?? []).map((line) => [line.id, line.title]),
  ]);
}
