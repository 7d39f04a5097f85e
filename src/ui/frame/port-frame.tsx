import type { ComponentProps, ReactNode } from "react";
import type { ErrorRecord } from "@/core/errors";
import { PageProblem } from "@/ui/frame/page-problem";
import styles from "@/ui/frame/port-frame.module.css";
import { Strip } from "@/ui/frame/strip";

type Props = ComponentProps<typeof Strip> & {
  readonly error: ErrorRecord | null;
  /** A layout of its own in place of the strip above one body. */
  readonly className?: string | undefined;
  readonly children: ReactNode;
};

/** A view of a port: the strip on top, what keeps it from being shown, and the view itself. */
export const PortFrame = ({ error, className = styles.view, children, ...strip }: Props) => (
  <div className={className}>
    <Strip {...strip} />
    <PageProblem error={error} />
    {children}
  </div>
);
