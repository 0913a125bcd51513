#![no_main]

// The first byte chooses the form.
libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Some((form, rest)) = bytes.split_first() {
        ambulant_cli::entrances::tiles(rest, form % 2 == 1);
    }
});
