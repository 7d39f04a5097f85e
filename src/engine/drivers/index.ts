/** The drivers that ship, one line each, and the driver of each language. See docs/formats.md, section 7. */
import path from "node:path";
import { c } from "@/engine/drivers/c/c";
import { cpp } from "@/engine/drivers/cpp/cpp";
import type { Driver } from "@/engine/drivers/driver";
import { go } from "@/engine/drivers/go/go";
import { java } from "@/engine/drivers/java/java";
import { node } from "@/engine/drivers/node/node";
import { php } from "@/engine/drivers/php/php";
import { python } from "@/engine/drivers/python/python";
import { ruby } from "@/engine/drivers/ruby/ruby";
import { rust } from "@/engine/drivers/rust/rust";
import { packageRoot } from "@/engine/package-root";

/** All drivers that ship. */
export const ALL_DRIVERS: readonly Driver[] = [python, node, java, go, ruby, php, c, cpp, rust];

/** Language → its driver. */
export const DRIVERS: Readonly<Record<string, Driver>> = Object.fromEntries(
  ALL_DRIVERS.flatMap((driver) => driver.languages.map((language) => [language, driver])),
);

/** The folder with the programs of the drivers. */
export const driversFolder = (): string => path.join(packageRoot(), "src/engine/drivers");

/** Merges one field of all drivers, such as the environment variables of every program. */
export const fromAllDrivers = (pick: (driver: Driver) => Readonly<Record<string, string>>): Record<string, string> =>
  Object.assign({}, ...ALL_DRIVERS.map(pick));
