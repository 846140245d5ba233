import { Button, Modal } from '@mantine/core';
import type { SheetFill, SheetStep, What } from '../../api/types';
import { figure } from '../../lib/format';
import dialog from './EntryDialog.module.css';
import classes from './hob.module.css';
import { FINISHED } from './MainPress';

interface FillCloseProps {
  /** The filling that is to be closed, or nothing. */
  step: SheetStep | null;
  fill: SheetFill | null;
  /** Whether nothing is left to do after it: the batch is finished with it. */
  last: boolean;
  enter: (what: What) => void;
  onClose: () => void;
}

/** Before a filling is closed with some of it in no bottle: what became of the rest. */
export function FillClose({ step, fill, last, enter, onClose }: FillCloseProps) {
  const open = fill?.open_g ?? 0;
  const close = (fate: 'kept' | 'binned' | null) => {
    if (!step) return;
    if (fate) enter({ kind: 'left_over', stage: step.id, mass_g: Math.round(open), fate });
    enter({ kind: 'done', stage: step.id });
    if (last) enter(FINISHED);
    onClose();
  };
  return (
    <Modal
      opened={step !== null}
      onClose={onClose}
      title={`${figure(open)} g are in no bottle`}
      centered
      size={480}
      classNames={{ title: dialog.title }}
      closeButtonProps={{ 'aria-label': 'Close, go on filling', size: 44 }}
    >
      <div className={classes.stack}>
        <p className={classes.quiet}>
          {figure(fill?.expects_g ?? 0)} g were there, {figure((fill?.filled_g ?? 0) + (fill?.kept_g ?? 0))} g are
          filled or kept. What became of the rest?
        </p>
        <Button h={60} variant="default" onClick={onClose}>
          It goes into another size: go on filling
        </Button>
        <Button h={60} variant="default" onClick={() => close('kept')}>
          Left over and kept, {figure(open)} g
        </Button>
        <Button h={60} variant="default" onClick={() => close('binned')}>
          Thrown away, {figure(open)} g
        </Button>
        <Button h={60} variant="default" onClick={() => close(null)}>
          It was never there: the yield is what was filled
        </Button>
      </div>
    </Modal>
  );
}
