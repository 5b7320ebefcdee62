import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { newId } from '../../../api/newId';
import { askPrint, printsQuery } from '../../../api/prints';
import { useNotices } from '../../../app/notices';
import { useRemembered } from '../../../app/remembered';
import type { Player } from '../../../player/player';
import type { StageView } from '../../../stage/scene';
import { isUnderWay, type Job, useJobHand, useJobs, watchJob } from '../../library/jobs/useJobs';
import {
  type Beside,
  HOUSE_TEST,
  loopSaid,
  type PrintOptions,
  type PrintSubject,
  printWish,
} from './printWish';

export interface Printing {
  readonly options: PrintOptions;
  readonly setOptions: (options: PrintOptions) => void;
  readonly isOpen: boolean;
  readonly setOpen: (isOpen: boolean) => void;
  readonly subject: PrintSubject;
  readonly beside: Beside;
  readonly setBeside: (beside: Beside) => void;
  /** The shown frames that loop, where a part of it does. */
  readonly loop: string | null;
  /** Print it as it stands, with these options: when its turn comes, or not before a moment. */
  readonly print: (notBefore?: Date) => void;
  readonly isAsking: boolean;
  /** Prints of it that are under way. */
  readonly underWay: readonly Job[];
  readonly cancel: (job: string) => void;
}

/** Printing what is open: how one did it last in this kind of room is how one does it next. */
export function usePrinting(subject: PrintSubject, view: StageView, player: Player): Printing {
  const { production } = subject;
  const queries = useQueryClient();
  const notices = useNotices();
  const [remembered, setOptions] = useRemembered<PrintOptions>(
    `hours/print/${subject.room}`,
    HOUSE_TEST,
  );
  // What was remembered before there was this or that to be chosen.
  const options = { ...HOUSE_TEST, ...remembered };
  const [isOpen, setOpen] = useState(false);
  const [beside, setBeside] = useState<Beside>(null);
  const [isAsking, setAsking] = useState(false);
  const [asked, setAsked] = useState<readonly string[]>([]);
  const hand = useJobHand(production);
  const own = (useJobs(production).data ?? []).filter(
    (job) => job.kind === 'print' && asked.includes(job.id),
  );
  const ended = own.find((job) => !isUnderWay(job)) ?? null;
  const latest = useRef({ hand, notices, queries });
  latest.current = { hand, notices, queries };
  useEffect(() => {
    if (!ended) return;
    setAsked((known) => known.filter((id) => id !== ended.id));
    const { hand: own, notices: board, queries: known } = latest.current;
    own.putAway(ended.id);
    if (ended.state === 'done') void known.invalidateQueries(printsQuery(production));
    if (ended.state === 'refused') board.trouble(new Error(ended.says.join(' ')));
    else if (ended.says.length) board.say(ended.says.join(' '));
  }, [ended, production]);
  const print = (notBefore?: Date) => {
    const wish = printWish(options, {
      view,
      range: subject.length === null ? null : player.snapshot().range,
      subject,
      beside,
    });
    setAsking(true);
    askPrint(subject.room, subject.id, {
      ...wish,
      token: newId(),
      not_before: notBefore?.toISOString() ?? null,
    })
      .then((job) => {
        watchJob(queries, production, job);
        setAsked((known) => [...known, job.id]);
        notices.say(`${job.title} ${notBefore ? 'is on the night list' : 'is being printed'}.`);
      }, notices.trouble)
      .finally(() => setAsking(false));
  };
  const underWay = own.filter(isUnderWay);
  return {
    subject,
    options,
    setOptions,
    beside,
    setBeside,
    loop: subject.length === null ? null : loopSaid(player, subject.firstFrame),
    isOpen,
    setOpen,
    print,
    isAsking,
    underWay,
    cancel: hand.cancel,
  };
}
