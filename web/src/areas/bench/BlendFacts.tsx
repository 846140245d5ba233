import { NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { MethodDocument, StageReport } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import classes from './BlendFacts.module.css';
import { NumberField } from '../../parts/NumberField';

interface BlendFactsProps {
  blend: NonNullable<StageReport['blend']>;
  stage: string;
  document: MethodDocument;
}

/** A blend by mass and by strength, what its scale cannot weigh, and what to do about a spoon too many. */
export function BlendFacts({ blend, stage, document }: BlendFactsProps) {
  const percent = (share: number) => figure(100 * Math.min(share, 1));
  return (
    <div className={classes.root}>
      {blend.shares.length > 0 && (
        <table className={classes.table}>
          <caption>Strength by the gram is an order, an estimate</caption>
          <thead>
            <tr>
              <th scope="col">Spice</th>
              <th scope="col">of its weight</th>
              <th scope="col">of its strength</th>
            </tr>
          </thead>
          <tbody>
            {blend.shares.map((share) => (
              <tr key={share.line} data-loud={share.line === blend.dominant || undefined}>
                <th scope="row">
                  {share.title}
                  {share.line === blend.dominant && <span className={classes.loud}> carries it</span>}
                </th>
                <td>{percent(share.mass_share)} %</td>
                <td>
                  {percent(share.low)}–{percent(share.high)} %
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {blend.premix && (
        <Notice
          tone="look"
          text={`${blend.premix.title} is ${grams(blend.premix.grams)} g, ± ${percent(blend.premix.error)} % on ${blend.premix.scale}. Put together ${blend.premix.times} times as much, ${grams(blend.premix.make_g)} g, and take ${grams(blend.premix.take_g)} g of it.`}
        />
      )}
      <TooMuch
        stage={stage}
        document={document}
        titles={new Map(blend.shares.map((share) => [share.line, share.title]))}
      />
    </div>
  );
}

/** More of one went in than was asked for: accept it, scale the others up, or top up. */
function TooMuch({
  stage,
  document,
  titles,
}: {
  stage: string;
  document: MethodDocument;
  titles: Map<string, string>;
}) {
  const found = document.stages.find((each) => each.id === stage);
  const lines = found && 'lines' in found ? found.lines : [];
  const [line, setLine] = useState('');
  const [poured, setPoured] = useState<number | null>(null);
  const chosen = line || (lines[0]?.id ?? '');
  const answers = useQuery({
    queryKey: ['overshot', chosen, poured, document],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/overshot', {
          body: { document, ask: { line: chosen, poured_g: poured ?? 0, weighed: null } },
          signal,
        }),
      ),
    enabled: poured !== null && Number.isFinite(poured) && poured > 0,
    retry: false,
    gcTime: 0,
  });
  if (lines.length < 2) return null;
  return (
    <details className={classes.much}>
      <summary>Too much of one went in</summary>
      <div className={classes.ask}>
        <NativeSelect
          size="xs"
          aria-label="What there is too much of"
          value={chosen}
          data={lines.map((each) => ({
            value: each.id,
            label: titles.get(each.id) ?? each.name ?? each.substance.replace(/_/g, ' '),
          }))}
          onChange={(event) => setLine(event.currentTarget.value)}
        />
        <NumberField
          label="The scale shows"
          value={poured}
          unit="g"
          placeholder="it shows"
          onNumber={setPoured}
          onClear={() => setPoured(null)}
        />
      </div>
      {answers.isError && <Notice tone="look" text={answers.error.message} />}
      {answers.data && (
        <ul className={classes.remedies}>
          {answers.data.remedies.map((remedy) => (
            <li key={remedy.kind}>
              <strong>{remedy.title}.</strong> {remedy.words}
              {remedy.kind === 'scale_up' &&
                ` ${remedy.lines.map((each) => `${each.title} ${grams(each.grams)} g`).join(', ')}.`}
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}
