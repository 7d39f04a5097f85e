import { c } from "@/testing/declarations/c";
import { cpp } from "@/testing/declarations/cpp";
import { csharp } from "@/testing/declarations/csharp";
import type { Declarations } from "@/testing/declarations/declarations";
import { go } from "@/testing/declarations/go";
import { java } from "@/testing/declarations/java";
import { javascript } from "@/testing/declarations/javascript";
import { php } from "@/testing/declarations/php";
import { python } from "@/testing/declarations/python";
import { ruby } from "@/testing/declarations/ruby";
import { rust } from "@/testing/declarations/rust";
import { tsx } from "@/testing/declarations/tsx";
import { typescript } from "@/testing/declarations/typescript";

/** One line a language. */
export const DECLARATIONS: readonly Declarations[] = [
  php,
  ruby,
  csharp,
  rust,
  go,
  java,
  c,
  cpp,
  python,
  javascript,
  typescript,
  tsx,
];
