"use client";
import Button from "@mui/material/Button";
import { useRouter } from "next/navigation";
import { ROUTES } from "@/api/routes";
import type { FamilyView } from "@/api/views";
import { ask, benchHref, describeRefusal } from "@/ui/api";
import { plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { useKeys } from "@/ui/state/use-keys";
import { inputLines } from "@/ui/views/reader/input-lines";
import styles from "@/ui/views/reader/reader.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly inner: NonNullable<FamilyView["inner"]>;
};

/** Where the cases of a family part inside: the path of calls, and a small case that shows it by itself. */
export function Inner({ port, twin, inner }: Props) {
  const router = useRouter();
  const notice = useNotice();
  const at = inner.section.indexOf(".");
  const [module, section] = [inner.section.slice(0, at), inner.section.slice(at + 1)];
  const go = () => router.push(benchHref(port, module, twin, section));
  useKeys([{ key: "z", does: "go to the section where the two sides part", run: go }]);
  const { case: item } = inner;
  const keep = () => {
    if (!item) return;
    ask(ROUTES.addCase, { case: item }, { port }).then(
      ({ file }) => {
        notice({
          text: `Saved ${item.id} in ${file}, and run.`,
          undo: () => ask(ROUTES.dropCases, { ids: [item.id] }, { port }),
        });
        ask(ROUTES.startCheck, { caseId: item.id, twin }, { port }).catch(() => undefined); // a running check has it next time
      },
      (thrown: unknown) => notice({ text: describeRefusal(thrown) }),
    );
  };
  return (
    <section className={styles.inner} aria-label="Where the two sides part">
      <h3>
        The two sides part in {inner.section}
        <span className="soft">seen in {plural(inner.shared, "case")}</span>
      </h3>
      <ol className={styles.path} aria-label="Path of calls">
        {inner.path.map((name, depth) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a section that calls itself is in the path twice
          <li key={depth} style={{ paddingLeft: depth * 12 }} className="mono">
            {name}
          </li>
        ))}
      </ol>
      {item && <p className="mono">{inputLines(item).join("; ")}</p>}
      <div className={styles.doings}>
        <Button onClick={go}>
          Open on the Bench <kbd>z</kbd>
        </Button>
        {item && <Button onClick={keep}>Keep it as a case</Button>}
      </div>
    </section>
  );
}
