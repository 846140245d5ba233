import type { SheetReport, What } from '../../api/types';
import { Notice } from '../../parts/Notice';
import { TakeBack } from './TakeBack';

interface SetAsideProps {
  sheet: SheetReport;
  mayEnter: boolean;
  enter: (what: What) => void;
}

/** Entries that nothing can be worked out with: the batch goes on without them, and whoever cooks can take them back. */
export function SetAside({ sheet, mayEnter, enter }: SetAsideProps) {
  return (sheet.aside ?? []).map((each) => (
    <Notice
      key={each.entry}
      tone="stop"
      text={`Entry ${each.seq} is not counted, “${each.words}”: ${each.why} Everything else is.`}
    >
      {mayEnter && <TakeBack entry={each.entry} words={each.words} enter={enter} />}
    </Notice>
  ));
}
