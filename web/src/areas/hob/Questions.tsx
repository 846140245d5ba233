import { Button } from '@mantine/core';
import type { BatchOut, QuestionReport, What } from '../../api/types';
import { Notice } from '../../parts/Notice';
import classes from './hob.module.css';

interface QuestionsProps {
  questions: QuestionReport[];
  people: BatchOut['people'];
  mayEnter: boolean;
  enter: (what: What) => void;
}

/** What two tablets entered without knowing of each other: both stand until somebody says. */
export function Questions({ questions, people, mayEnter, enter }: QuestionsProps) {
  const names = new Map(people.map((person) => [person.username, person.name]));
  return questions.map((question) => (
    <Notice key={question.id} tone="stop" text={question.words}>
      {mayEnter && (
        <div className={classes.buttons}>
          {question.choices.map((choice) => (
            <Button
              key={choice.entry}
              variant="default"
              onClick={() => enter({ kind: 'settled', question: question.id, keep: [choice.entry] })}
            >
              {choice.words}, {names.get(choice.by) ?? choice.by}
            </Button>
          ))}
          {question.may_add && (
            <Button
              variant="default"
              onClick={() =>
                enter({ kind: 'settled', question: question.id, keep: question.choices.map((choice) => choice.entry) })
              }
            >
              {question.both}
            </Button>
          )}
        </div>
      )}
    </Notice>
  ));
}
