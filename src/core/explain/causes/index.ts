/** The causes that a suspect can name, one line each. */
import type { Cause } from "@/core/explain/cause";
import { booleanAndNumber } from "@/core/explain/causes/boolean-and-number";
import { boundary } from "@/core/explain/causes/boundary";
import { bytesAndText } from "@/core/explain/causes/bytes-and-text";
import { changedArgument } from "@/core/explain/causes/changed-argument";
import { codeUnits } from "@/core/explain/causes/code-units";
import { constantOffset } from "@/core/explain/causes/constant-offset";
import { cutShort } from "@/core/explain/causes/cut-short";
import { duplicates } from "@/core/explain/causes/duplicates";
import { emptyAndMissing } from "@/core/explain/causes/empty-and-missing";
import { epochUnit } from "@/core/explain/causes/epoch-unit";
import { errorAdded } from "@/core/explain/causes/error-added";
import { errorKind } from "@/core/explain/causes/error-kind";
import { errorMessage } from "@/core/explain/causes/error-message";
import { errorSwallowed } from "@/core/explain/causes/error-swallowed";
import { escaping } from "@/core/explain/causes/escaping";
import { extraKey } from "@/core/explain/causes/extra-key";
import { extraOutput } from "@/core/explain/causes/extra-output";
import { firstOnly } from "@/core/explain/causes/first-only";
import { firstOrLast } from "@/core/explain/causes/first-or-last";
import { float32Precision } from "@/core/explain/causes/float32-precision";
import { floorOrTruncate } from "@/core/explain/causes/floor-or-truncate";
import { int32Wrap } from "@/core/explain/causes/int32-wrap";
import { int64Wrap } from "@/core/explain/causes/int64-wrap";
import { integerDivision } from "@/core/explain/causes/integer-division";
import { integerPrecision } from "@/core/explain/causes/integer-precision";
import { keyNaming } from "@/core/explain/causes/key-naming";
import { lastItem } from "@/core/explain/causes/last-item";
import { lineEnding } from "@/core/explain/causes/line-ending";
import { missingKey } from "@/core/explain/causes/missing-key";
import { negativeZero } from "@/core/explain/causes/negative-zero";
import { notANumber } from "@/core/explain/causes/not-a-number";
import { notPortedBranch } from "@/core/explain/causes/not-ported-branch";
import { nullAndMissing } from "@/core/explain/causes/null-and-missing";
import { numberFormat } from "@/core/explain/causes/number-format";
import { offByOne } from "@/core/explain/causes/off-by-one";
import { orderOnly } from "@/core/explain/causes/order-only";
import { overflowChecked } from "@/core/explain/causes/overflow-checked";
import { remainderSign } from "@/core/explain/causes/remainder-sign";
import { roundingMode } from "@/core/explain/causes/rounding-mode";
import { separator } from "@/core/explain/causes/separator";
import { sharedState } from "@/core/explain/causes/shared-state";
import { signFlip } from "@/core/explain/causes/sign-flip";
import { sortOrder } from "@/core/explain/causes/sort-order";
import { summationOrder } from "@/core/explain/causes/summation-order";
import { textAndNumber } from "@/core/explain/causes/text-and-number";
import { textCase } from "@/core/explain/causes/text-case";
import { timeZone } from "@/core/explain/causes/time-zone";
import { unicodeForm } from "@/core/explain/causes/unicode-form";
import { unitFactor } from "@/core/explain/causes/unit-factor";
import { unstableSort } from "@/core/explain/causes/unstable-sort";
import { weekdayBase } from "@/core/explain/causes/weekday-base";
import { whitespace } from "@/core/explain/causes/whitespace";
import { wrongConstant } from "@/core/explain/causes/wrong-constant";
import { wrongEncoding } from "@/core/explain/causes/wrong-encoding";
import { zeroBasedMonth } from "@/core/explain/causes/zero-based-month";

export const CAUSES: readonly Cause[] = [
  booleanAndNumber,
  boundary,
  bytesAndText,
  changedArgument,
  codeUnits,
  constantOffset,
  cutShort,
  duplicates,
  emptyAndMissing,
  epochUnit,
  errorAdded,
  errorKind,
  errorMessage,
  errorSwallowed,
  escaping,
  extraKey,
  extraOutput,
  firstOnly,
  firstOrLast,
  float32Precision,
  floorOrTruncate,
  int32Wrap,
  int64Wrap,
  integerDivision,
  integerPrecision,
  keyNaming,
  lastItem,
  lineEnding,
  missingKey,
  negativeZero,
  notANumber,
  notPortedBranch,
  nullAndMissing,
  numberFormat,
  offByOne,
  orderOnly,
  overflowChecked,
  remainderSign,
  roundingMode,
  separator,
  sharedState,
  signFlip,
  sortOrder,
  summationOrder,
  textAndNumber,
  textCase,
  timeZone,
  unicodeForm,
  unitFactor,
  unstableSort,
  weekdayBase,
  whitespace,
  wrongConstant,
  wrongEncoding,
  zeroBasedMonth,
];

export const findCause = (name: string): Cause | undefined => CAUSES.find((cause) => cause.name === name);
