import type { ProgramProbes } from "@/engine/drivers/driver";

/** Cargo's default crate roots. */
const ROOT = /(^|\/)src\/(main|lib)\.rs$|(^|\/)src\/bin\/[^/]+(\/main)?\.rs$|^[^/]+\.rs$/;

/** Each crate brings the probe's function; a module of its own that no source names. */
export const rustProbes: ProgramProbes = {
  isSource: (file) => file.endsWith(".rs") && !/(^|\/)(build\.rs$|tests\/|benches\/)/.test(file),
  call: (probe) => `crate::zz_side_twin_probes::hit(${probe});`,
  complete: (files, { count }) =>
    new Map([...files].map(([file, text]) => [file, ROOT.test(file) ? `${text}\n${support(count)}` : text])),
};

const support = (count: number): string => `
#[doc(hidden)]
#[allow(warnings)]
pub(crate) mod zz_side_twin_probes {
    use std::os::unix::fs::FileExt;
    use std::sync::atomic::{AtomicBool, Ordering};
    use std::sync::OnceLock;
    const NOT_YET: AtomicBool = AtomicBool::new(false);
    static SEEN: [AtomicBool; ${count}] = [NOT_YET; ${count}];
    static FILE: OnceLock<Option<std::fs::File>> = OnceLock::new();
    fn open() -> Option<std::fs::File> {
        let name = std::env::var_os("SIDE_TWIN_PROBES")?;
        std::fs::OpenOptions::new().write(true).create(true).open(name).ok()
    }
    pub fn hit(probe: usize) {
        if SEEN[probe].swap(true, Ordering::Relaxed) {
            return;
        }
        if let Some(file) = FILE.get_or_init(open) {
            let _ = file.write_at(&[1], probe as u64);
        }
    }
}
`;
