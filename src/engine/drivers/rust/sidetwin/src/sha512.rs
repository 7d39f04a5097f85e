//! SHA-512 (FIPS 180-4), with which replies are sealed. The constants are the fractions of the roots of the first primes.

fn primes() -> Vec<u128> {
    (2u128..410).filter(|number| (2..*number).all(|factor| number % factor != 0)).take(80).collect()
}

/// The largest number whose `power` is at most `value`.
fn root(value: [u64; 4], power: u32) -> u128 {
    let (mut low, mut high) = (0u128, 1 << 67);
    while low < high {
        let middle = (low + high + 1) / 2;
        if raised(middle, power) <= value { low = middle } else { high = middle - 1 }
    }
    low
}

/// A power of a number below 2^68 in 256 bits, the highest word first.
fn raised(number: u128, power: u32) -> [u64; 4] {
    let mut words = [0, 0, 0, 1u64];
    for _ in 0..power {
        let mut made = [0u128; 4];
        for (at, word) in words.iter().enumerate() {
            let mut carry = 0u128;
            for (offset, part) in [number as u64, (number >> 64) as u64].into_iter().enumerate() {
                if at < offset {
                    continue;
                }
                let product = u128::from(*word) * u128::from(part);
                made[at - offset] += product & u128::from(u64::MAX);
                carry = product >> 64;
                if at > offset {
                    made[at - offset - 1] += carry;
                }
            }
            let _ = carry;
        }
        let mut carry = 0;
        for at in (0..4).rev() {
            let sum = made[at] + carry;
            words[at] = sum as u64;
            carry = sum >> 64;
        }
    }
    words
}

pub struct Constants {
    rounds: Vec<u64>,
    start: [u64; 8],
}

pub fn constants() -> Constants {
    let primes = primes();
    // The first 64 bits behind the point: the roots of the prime, shifted by 64 bits in each factor.
    let cube = |prime: u128| root([prime as u64, 0, 0, 0], 3) as u64;
    let square = |prime: u128| root([0, prime as u64, 0, 0], 2) as u64;
    let mut start = [0; 8];
    for (word, prime) in start.iter_mut().zip(&primes) {
        *word = square(*prime);
    }
    Constants { rounds: primes.iter().map(|prime| cube(*prime)).collect(), start }
}

pub fn sha512(constants: &Constants, text: &str) -> [u8; 64] {
    let mut data = text.as_bytes().to_vec();
    let bits = (data.len() as u128) * 8;
    data.push(0x80);
    while data.len() % 128 != 112 {
        data.push(0);
    }
    data.extend_from_slice(&bits.to_be_bytes());
    let mut sums = constants.start;
    for block in data.chunks(128) {
        let mut words: Vec<u64> = block.chunks(8).map(|bytes| u64::from_be_bytes(bytes.try_into().unwrap_or([0; 8]))).collect();
        for at in 16..80 {
            let (low, high) = (words[at - 15], words[at - 2]);
            let first = low.rotate_right(1) ^ low.rotate_right(8) ^ low >> 7;
            let second = high.rotate_right(19) ^ high.rotate_right(61) ^ high >> 6;
            words.push(words[at - 16].wrapping_add(first).wrapping_add(words[at - 7]).wrapping_add(second));
        }
        let mut s = sums;
        for at in 0..80 {
            let mixed = s[4].rotate_right(14) ^ s[4].rotate_right(18) ^ s[4].rotate_right(41);
            let chosen = (s[4] & s[5]) ^ (!s[4] & s[6]);
            let first = s[7].wrapping_add(mixed).wrapping_add(chosen).wrapping_add(constants.rounds[at]).wrapping_add(words[at]);
            let turned = s[0].rotate_right(28) ^ s[0].rotate_right(34) ^ s[0].rotate_right(39);
            let majority = (s[0] & s[1]) ^ (s[0] & s[2]) ^ (s[1] & s[2]);
            s.rotate_right(1);
            s[4] = s[4].wrapping_add(first);
            s[0] = first.wrapping_add(turned).wrapping_add(majority);
        }
        for (sum, word) in sums.iter_mut().zip(s) {
            *sum = sum.wrapping_add(word);
        }
    }
    let mut digest = [0; 64];
    for (place, sum) in digest.chunks_mut(8).zip(sums) {
        place.copy_from_slice(&sum.to_be_bytes());
    }
    digest
}

#[cfg(test)]
mod tests {
    #[test]
    fn is_the_standard_digest() {
        let digest = super::sha512(&super::constants(), "abc");
        assert_eq!(digest[..4], [0xdd, 0xaf, 0x35, 0xa1]);
    }
}
