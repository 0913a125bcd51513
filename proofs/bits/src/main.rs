//! Prints the number of `ambulant_bits::bits`.

fn main() {
    println!("{:016x}", ambulant_bits::bits());
}
