//! Chains of multiplications, three clock cycles each: a guest of known cost.

use std::arch::asm;

struct Start {
    value: u64,
    factor: u64,
}

fn start(json: &tachyscope::Json) -> Option<Start> {
    Some(Start { value: json["start"].as_u64()?, factor: 0x1E3779B97F4A7C15 })
}

#[inline(always)]
fn chain<const LINKS: u32>(from: &Start) -> u64 {
    let (mut value, factor) = (from.value, from.factor);
    for _ in 0..LINKS / 8 {
        macro_rules! link {
            ($($n:tt)*) => { $( let _ = $n; value = value.wrapping_mul(factor); unsafe { asm!("/* {0} */", inout(reg) value) }; )* };
        }
        link!(0 1 2 3 4 5 6 7);
    }
    value
}

fn main() {
    tachyscope::serve(start, vec![tachyscope::operation("chain64", chain::<64>), tachyscope::operation("chain256", chain::<256>)]);
}
