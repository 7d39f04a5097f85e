//! What a program's variables held after loading, to be put back after each case.

extern "C" {
    static mut __data_start: u8;
    static mut _end: u8;
    fn memcmp(left: *const u8, right: *const u8, count: usize) -> i32;
}

pub struct Image {
    start: *mut u8,
    kept: Vec<u8>,
}

impl Image {
    pub fn keep() -> Image {
        #[allow(unused_unsafe)]
        let start = unsafe { std::ptr::addr_of_mut!(__data_start) };
        #[allow(unused_unsafe)]
        let count = (unsafe { std::ptr::addr_of_mut!(_end) } as usize).saturating_sub(start as usize);
        let kept = unsafe { std::slice::from_raw_parts(start, count) }.to_vec();
        Image { start, kept }
    }

    pub fn restore(&self) {
        unsafe {
            if memcmp(self.start, self.kept.as_ptr(), self.kept.len()) != 0 {
                std::ptr::copy_nonoverlapping(self.kept.as_ptr(), self.start, self.kept.len());
            }
        }
    }
}
