#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| ambulant_cli::entrances::question(text));
