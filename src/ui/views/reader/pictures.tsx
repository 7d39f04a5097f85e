import { urlOf } from "@/api/route";
import { PATHS } from "@/api/routes";
import type { AlignedPicture } from "@/core/compare/aligned-documents";
import styles from "@/ui/views/reader/documents.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly caseId: string;
  readonly picture: AlignedPicture;
};

/** Two pictures side by side, and the one of where they differ. */
export function Pictures({ port, twin, caseId, picture: { file, original, twin: twinSize } }: Props) {
  const source = (side: string) => urlOf(PATHS.picture, port, { caseId, twin, file, side });
  const shown = [
    { side: "original", words: `original, ${original}`, tint: "steel" },
    { side: "twin", words: `twin, ${twinSize}`, tint: "copper" },
    { side: "difference", words: "where they differ", tint: "madder" },
  ];
  return (
    <figure className={styles.pictures}>
      <figcaption className="mono">{file}</figcaption>
      {shown.map(({ side, words, tint }) => (
        <div key={side}>
          <span className={tint}>{words}</span>
          {/* biome-ignore lint/performance/noImgElement: it is made on this machine, at its own size */}
          <img src={source(side)} alt={`${file}: ${words}`} />
        </div>
      ))}
    </figure>
  );
}
