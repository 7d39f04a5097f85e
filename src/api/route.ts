/** A route of the API: method, path, input and reply. Handlers and screens are typed by the same record. */
import { z } from "zod";

/** HTTP methods in use. */
export type Method = "GET" | "POST" | "PUT" | "DELETE";

/** `Given` is what the handler gets once `takes` has read the request; `Reply` is a type only, checked at both ends. */
export type Route<Given, Reply> = {
  readonly method: Method;
  /** Below `/api/`; `:id` is replaced by the port's id. */
  readonly path: string;
  /** Read from the query of a GET, and from the JSON body of the others. */
  readonly takes: z.ZodType<Given>;
  /** The longest body in bytes, where it is not the usual megabyte. */
  readonly maxBytes?: number;
  readonly reply?: Reply;
};

/** No input besides the path. */
export const NOTHING = z.object({});

/** A route that answers `Reply`; curried, because TypeScript infers either all type parameters or none. */
export const answers =
  <Reply>() =>
  <Given>(method: Method, path: string, takes: z.ZodType<Given>, maxBytes?: number): Route<Given, Reply> => ({
    method,
    path,
    takes,
    maxBytes,
  });

/** `/api/…` with the port filled in, and `parameters` as the query; undefined, null and empty ones are left out. */
export function urlOf(path: string, port: string | null, parameters: Readonly<Record<string, unknown>> = {}): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(parameters))
    if (value !== undefined && value !== null && value !== "") query.set(name, String(value));
  const text = query.toString();
  return `/api/${path.replace(":id", encodeURIComponent(port ?? ""))}${text ? `?${text}` : ""}`;
}
