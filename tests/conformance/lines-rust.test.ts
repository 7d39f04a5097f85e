import { runsLines } from "./lines";

const SOURCE = `
const fn none() -> i32 { 0 }

fn more(n: i32) -> i32 {
    n * 10 // all one two
}

fn choose(n: i32) -> i32 {
    let found;
    let mut extra = none(); // all one two
    if n == 1 { // all one two
        return more(n); // all one
    } else if n == 3 { // all two
        found = 1; // all
    } else {
        found = 2; // all two
    }
    #[allow(unused_assignments)]
    match n { // all two
        2 => {
            for _ in 0..2 { // all two
                extra += 1; // all two
            }
        }
        _ => extra = 5,
    }
    more(found) + extra // all two
}
`;

runsLines("rust", "choose.rs", SOURCE);
