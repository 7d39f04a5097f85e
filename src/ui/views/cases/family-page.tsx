"use client";
import Button from "@mui/material/Button";
import type { CaseView, FamilyView } from "@/api/views";
import { plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import styles from "@/ui/views/cases/cases.module.css";
import { Answers } from "@/ui/views/reader/answers";
import { BrokenWhy } from "@/ui/views/reader/finding";
import { Input } from "@/ui/views/reader/input";
import { Mend } from "@/ui/views/reader/mend";
import { Suspects } from "@/ui/views/reader/suspects";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly family: FamilyView;
  readonly detail: CaseView | null;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
  readonly onGo: () => void;
};

const SHOWN_CASES = 60;

/** One family: its simplest case with both answers, suspects, and cases. */
export function FamilyPage({ port, twin, family, detail, chosen, onChoose, onGo }: Props) {
  const where = `${family.module ?? "the program"}.${family.call}`;
  const isInside = family.inner?.section === where;
  return (
    <>
      <div className={styles.title}>
        <div>
          <h1>{family.sentence}</h1>
          <p className="soft">
            {plural(family.cases.length, "case")} {isInside ? "that part in" : "in"}{" "}
            <span className="mono">{where}</span>, {family.mark === "broken" ? "on " : "at "}
            <span className={family.mark === "broken" ? undefined : "mono"}>{family.at}</span>; the simplest is{" "}
            <span className="mono">{family.simplest}</span>
          </p>
        </div>
        {family.module !== null && (
          <Button onClick={onGo}>
            Open on the Bench <kbd>g</kbd>
          </Button>
        )}
      </div>
      <div className={styles.reading}>
        {detail ? <Input key={detail.id} port={port} twin={twin} detail={detail} /> : <div />}
        {detail && <Answers port={port} twin={twin} detail={detail} />}
      </div>
      <div className={styles.causes}>
        <section aria-label="Suspects in order">
          <h2>{family.mark === "broken" ? "Why" : "Suspects"}</h2>
          {family.mark === "broken" && detail && <BrokenWhy port={port} detail={detail} />}
          {detail && !("run" in detail.item) && (
            <Mend
              key={detail.id}
              port={port}
              twin={twin}
              caseId={detail.id}
              module={family.module}
              isDiffering={detail.canMend && detail.mark === "differ"}
            />
          )}
          {family.mark === "differ" && <Suspects port={port} twin={twin} family={family} heading={false} />}
        </section>
        <section aria-label="Its cases">
          <h2>Its cases</h2>
          <ul className={styles.own}>
            {family.cases.slice(0, SHOWN_CASES).map((name) => (
              <li key={name}>
                <button type="button" aria-pressed={name === chosen} onClick={() => onChoose(name)}>
                  <Mark mark={family.mark} /> {name}
                </button>
              </li>
            ))}
          </ul>
          {family.cases.length > SHOWN_CASES && (
            <p className="soft">and {family.cases.length - SHOWN_CASES} more, under All cases</p>
          )}
        </section>
      </div>
    </>
  );
}
