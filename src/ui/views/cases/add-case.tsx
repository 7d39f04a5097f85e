"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import { useMemo, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { CallableSection, CasesView } from "@/api/views";
import { composeCall, composeMethod, type Filled, readField } from "@/core/cases/compose";
import { freeId } from "@/core/cases/free-id";
import { type ErrorRecord, toErrorRecord } from "@/core/errors";
import { parseCaseLines } from "@/core/formats/case-line";
import { findLanguage, LANGUAGES } from "@/core/source/languages/index";
import { ApiError, ask } from "@/ui/api";
import { Problem } from "@/ui/frame/problem";
import styles from "@/ui/views/cases/add-case.module.css";

type Props = {
  readonly data: CasesView;
  readonly taken: readonly { readonly id: string }[];
  /** The module and section to begin with: those one is at. */
  readonly module: string | null;
  readonly section: string | null;
  readonly onClose: () => void;
  readonly onAdded: (id: string) => void;
};

/** Adds a case by hand: by parameters of a section, or as a line of JSON. */
export function AddCase({ data, taken, module: wanted, section: at, onClose, onAdded }: Props) {
  const [module, setModule] = useState(
    data.modules.find((name) => name === wanted) ??
      data.modules.find((name) => callable(data.sections, name).length > 0) ??
      "",
  );
  const sections = useMemo(() => callable(data.sections, module), [data.sections, module]);
  const [name, setName] = useState(at ?? "");
  const section = sections.find((entry) => entry.name === name) ?? sections[0];
  const [typed, setFields] = useState<Readonly<Record<string, string>>>({});
  // The answer of a callback is the case's.
  const callback = section?.callback ?? null;
  const fields = callback
    ? { [`of ${callback.param}`]: JSON.stringify({ "~callback": callback.style }), ...typed }
    : typed;
  const [edited, setEdited] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const made = section?.kind === "method" ? paramsOfMaking(data.sections, section) : [];
  const params = section?.params ?? [];
  const filled = (list: readonly string[], prefix: string): Filled[] =>
    list.map((param) => ({ name: param, text: fields[`${prefix}${param}`] ?? "" }));
  const id = freeId(
    `${module}-${(section?.name ?? "case").split(".").at(-1)}-1`,
    new Set(taken.map((item) => item.id)),
  );
  const asked = {
    id,
    module,
    section: section?.name ?? "",
    hasNamed: findLanguage(data.port.original)?.namedArguments === true,
    fields: filled(params, "of "),
  };
  const composed =
    section?.kind === "method" ? composeMethod({ ...asked, made: filled(made, "new ") }) : composeCall(asked);
  const line = edited ?? JSON.stringify(composed);
  const set = (key: string, text: string) => {
    setFields((before) => ({ ...before, [key]: text }));
    setEdited(null);
  };
  const add = () => {
    try {
      const [item] = parseCaseLines(line, "the new case");
      if (!item) return;
      ask(ROUTES.addCase, { case: JSON.parse(line) }, { port: data.port.id }).then(
        () => onAdded(item.id),
        (thrown: unknown) => setRefusal(thrown instanceof ApiError ? thrown.record : toErrorRecord(thrown)),
      );
    } catch (thrown) {
      setRefusal(toErrorRecord(thrown));
    }
  };
  return (
    <Dialog
      open
      onClose={(_event, reason) => reason !== "backdropClick" && onClose()}
      aria-labelledby="add-case"
      fullWidth
      maxWidth="md"
    >
      <DialogTitle id="add-case">Add a case</DialogTitle>
      <DialogContent>
        <form
          id="add-case-form"
          className={styles.form}
          onSubmit={(event) => {
            event.preventDefault();
            add();
          }}
        >
          <Choice label="Module" value={module} options={data.modules} onChange={setModule} />
          <Choice
            label="Section"
            value={section?.name ?? ""}
            options={sections.map((entry) => entry.name)}
            onChange={(next) => {
              setName(next);
              setEdited(null);
            }}
          />
          {made.map((param, index) => (
            <Field
              key={`new ${param}`}
              isFirst={index === 0}
              label={`${param}, of the object`}
              text={fields[`new ${param}`] ?? ""}
              onChange={(text) => set(`new ${param}`, text)}
            />
          ))}
          {params.map((param, index) => (
            <Field
              key={`of ${param}`}
              isFirst={index === 0 && made.length === 0}
              label={param}
              text={fields[`of ${param}`] ?? ""}
              onChange={(text) => set(`of ${param}`, text)}
            />
          ))}
          {section && params.length + made.length === 0 && <p className="soft">It takes no argument.</p>}
          {!section && <p className="soft">This module has no function to call: write the line below by hand.</p>}
        </form>
        <div className={styles.line}>
          <span>Line to be added</span>
          <InputBase
            multiline
            minRows={3}
            fullWidth
            value={line}
            onChange={(event) => setEdited(event.target.value)}
            inputProps={{ spellCheck: false, className: "mono", "aria-label": "The case as a line" }}
          />
        </div>
        {refusal && <Problem record={refusal} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button className="main" type="submit" form="add-case-form">
          Add and run it
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Functions and methods of a module; a class is made through its methods. */
const callable = (sections: readonly CallableSection[], module: string): CallableSection[] =>
  sections.filter((section) => section.module === module && section.kind !== "class" && !isMaking(section));

const MAKERS = new Set(LANGUAGES.flatMap(({ makers = [] }) => makers));

const isMaking = ({ name }: CallableSection): boolean => MAKERS.has(name.split(".").at(-1) ?? "") && name.includes(".");

function paramsOfMaking(sections: readonly CallableSection[], method: CallableSection): readonly string[] {
  const owner = method.name.split(".")[0];
  const making = sections.find(
    (section) => section.module === method.module && isMaking(section) && section.name.startsWith(`${owner}.`),
  );
  return making?.params ?? [];
}

type ChoiceProps = {
  readonly label: string;
  readonly value: string;
  readonly options: readonly string[];
  readonly onChange: (value: string) => void;
};

const Choice = ({ label, value, options, onChange }: ChoiceProps) => (
  <label className={styles.row}>
    <span>{label}</span>
    <select value={value} onChange={(event) => onChange(event.target.value)}>
      {options.map((option) => (
        <option key={option}>{option}</option>
      ))}
    </select>
  </label>
);

type FieldProps = {
  readonly label: string;
  readonly text: string;
  /** Takes the keyboard when the form opens. */
  readonly isFirst: boolean;
  readonly onChange: (text: string) => void;
};

/** A filled field shows how it is read. */
function Field({ label, text, isFirst, onChange }: FieldProps) {
  const read = text.trim() === "" ? "omitted" : readField(text).as === "text" ? "read as text" : "read as a value";
  return (
    <div className={styles.row}>
      <span>{label}</span>
      <InputBase
        value={text}
        autoFocus={isFirst}
        onChange={(event) => onChange(event.target.value)}
        inputProps={{ spellCheck: false, className: "mono", "aria-label": label }}
      />
      <small className="soft">{read}</small>
    </div>
  );
}
