//! `play --browser` over a real socket: what a page would say goes in, and what it is answered comes out.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use predicates::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};
use tungstenite::client::IntoClientRequest;
use tungstenite::http::HeaderValue;
use tungstenite::{Message, WebSocket};

use crate::harness::{Desk, project_file};

/// Longer than anything here takes, on a busy machine too.
const PATIENCE: Duration = Duration::from_secs(30);

/// The tool with its page.
struct Play {
    child: Child,
    port: u16,
    secret: String,
}

impl Drop for Play {
    fn drop(&mut self) {
        // A test that failed leaves nothing behind.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// A page that is connected.
struct Page(WebSocket<TcpStream>);

impl Play {
    fn start(desk: &Desk, demo: &str) -> Self {
        desk.write(&format!("{demo}.toml"), project_file(&format!("demo/{demo}.toml")));
        let mut child = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"))
            .args(["play", &format!("{demo}.toml"), "--browser"])
            .current_dir(desk.path(""))
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .expect("the tool starts");
        let mut line = String::new();
        let mut out = BufReader::new(child.stdout.take().expect("its output"));
        out.read_line(&mut line).expect("a line");
        child.stdout = Some(out.into_inner());
        let address = line.split("http://127.0.0.1:").nth(1).expect("an address");
        let mut parts = address.trim().split('/');
        let port = parts.next().and_then(|port| port.parse().ok()).expect("a port");
        Self { child, port, secret: parts.next().expect("a secret").to_owned() }
    }

    /// What a request is answered: the status and all of the text.
    fn ask(&self, request: &str) -> (u16, String) {
        let mut stream = TcpStream::connect(("127.0.0.1", self.port)).expect("the port is open");
        stream.set_read_timeout(Some(PATIENCE)).expect("a time limit");
        stream.write_all(request.as_bytes()).expect("a request");
        let mut answer = Vec::new();
        let _ = stream.read_to_end(&mut answer);
        let answer = String::from_utf8_lossy(&answer).into_owned();
        let status = answer.split(' ').nth(1).and_then(|status| status.parse().ok()).unwrap_or(0);
        (status, answer)
    }

    fn page(&self) -> Page {
        let mut request = format!("ws://127.0.0.1:{}/{}/play", self.port, self.secret)
            .into_client_request()
            .expect("an address");
        let origin = HeaderValue::from_str(&format!("http://127.0.0.1:{}", self.port)).expect("an origin");
        request.headers_mut().insert("Origin", origin);
        let stream = TcpStream::connect(("127.0.0.1", self.port)).expect("the port is open");
        stream.set_read_timeout(Some(PATIENCE)).expect("a time limit");
        Page(tungstenite::client(request, stream).expect("a handshake").0)
    }

    /// Waits for the end; the status, what was printed, and what was complained about.
    fn ended(mut self) -> (Option<i32>, String, String) {
        let start = Instant::now();
        let status = loop {
            if let Some(status) = self.child.try_wait().expect("a child") {
                break status;
            }
            assert!(start.elapsed() < PATIENCE, "it never ended");
            std::thread::sleep(Duration::from_millis(5));
        };
        let (mut out, mut complaints) = (String::new(), String::new());
        self.child.stdout.take().expect("its output").read_to_string(&mut out).expect("text");
        self.child.stderr.take().expect("its errors").read_to_string(&mut complaints).expect("text");
        (status.code(), out, complaints)
    }
}

impl Page {
    fn say(&mut self, message: Value) {
        self.0.send(Message::text(message.to_string())).expect("the connection stands");
    }

    fn answer(&mut self) -> Value {
        loop {
            match self.0.read() {
                Ok(Message::Text(text)) => return serde_json::from_str(&text).expect("an answer is JSON"),
                // A signal, or a machine that pauses, interrupts a read with a time limit.
                Err(tungstenite::Error::Io(error)) if error.kind() == std::io::ErrorKind::Interrupted => {}
                other => drop(other.expect("an answer")),
            }
        }
    }

    /// The next picture.
    fn frame(&mut self) -> Value {
        self.say(json!({ "do": "frame", "known": [0, 0, 0] }));
        self.answer()
    }

    #[track_caller]
    fn wait_until(&mut self, wanted: &str, is_so: impl Fn(&Value) -> bool) -> Value {
        let start = Instant::now();
        loop {
            let now = self.frame();
            if is_so(&now) {
                return now;
            }
            assert!(start.elapsed() < PATIENCE, "never saw {wanted}; the last answer was {now}");
            std::thread::sleep(Duration::from_millis(5));
        }
    }

    /// Lets so many ticks pass.
    #[track_caller]
    fn wait_ticks(&mut self, count: u64) -> Value {
        let first = self.frame()["tick"].as_u64().expect("a tick");
        self.wait_until("the ticks go on", |now| now["tick"].as_u64() >= Some(first + count))
    }
}

fn key(key: &str, down: bool) -> Value {
    json!({ "do": "key", "key": key, "down": down })
}

fn number(value: f64, goes_on: bool) -> Value {
    json!({ "do": "number", "way": "gait.top_speed", "value": value, "goes_on": goes_on })
}

/// The place of the actor in the hand.
fn x_of(now: &Value) -> f64 {
    let actor = now["actor"].as_u64().and_then(|actor| usize::try_from(actor).ok()).expect("an actor");
    now["rows"][actor][0][0].as_f64().expect("a place")
}

#[rstest]
#[case::keys("gardener", &[key("right", true)], "press = \"right\"")]
#[case::a_stick("gardener", &[json!({ "do": "stick", "to": [0.7, 0.4] })], "to = [0.7, 0.4]")]
#[case::a_key_and_a_stick("gardener", &[key("right", true), json!({ "do": "stick", "to": [0, -0.6] })], "stick")]
#[case::a_flick(
    "flicked_pebble",
    &[json!({ "do": "flick", "from": [60, 70], "to": [100, 74], "seconds": 0.2 })],
    "from = [60.0, 70.0]"
)]
#[case::a_serve("dewdrop", &[key("up", true), json!({ "do": "serve" })], "serve_at")]
#[case::a_shot("night_field", &[json!({ "do": "shoot", "toward": [20, 30] })], "toward = [20.0, 30.0]")]
#[case::steps("rail_cart", &[key("right", true)], "press = \"right\"")]
fn what_was_played_is_kept_and_runs_again_to_the_last_bit(
    #[case] demo: &str,
    #[case] says: &[Value],
    #[case] kept: &str,
) {
    let desk = Desk::new();
    let play = Play::start(&desk, demo);
    let mut page = play.page();
    page.wait_ticks(10);
    for message in says {
        page.say(message.clone());
    }
    page.wait_ticks(40);
    page.say(json!({ "do": "release_all" }));
    page.wait_ticks(20);
    page.say(json!({ "do": "keep" }));
    let now = page.frame();
    assert!(now["message"].as_str().expect("a message").contains("to the last bit"), "{now}");
    let name = format!("{demo}-played.toml");
    let text = String::from_utf8(desk.read(&name)).expect("text");
    assert!(text.contains(kept), "{text}");
    desk.ambulant(&format!("run {name}")).success();
}

#[test]
fn keys_move_the_actor_and_time_can_be_stopped_and_taken_back() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut page = play.page();
    let start = x_of(&page.frame());
    page.say(key("right", true));
    let moved = page.wait_until("it moves", |now| x_of(now) > start + 5.0);
    assert!(
        moved["events"]["new"][0]["text"].as_str().expect("an event").contains("moving right"),
        "{moved}"
    );
    page.say(json!({ "do": "pause", "paused": true }));
    let stopped = page.frame();
    std::thread::sleep(Duration::from_millis(60));
    assert_eq!(page.frame()["tick"], stopped["tick"]);
    page.say(json!({ "do": "step" }));
    let stepped = page.wait_until("a step", |now| now["tick"] != stopped["tick"]);
    assert_eq!(stepped["tick"].as_u64(), stopped["tick"].as_u64().map(|tick| tick + 1));
    page.say(json!({ "do": "back" }));
    let back = page.frame();
    assert_eq!((&back["tick"], x_of(&back)), (&stopped["tick"], x_of(&stopped)));
    // In slow motion a second is a sixteenth.
    page.say(json!({ "do": "pause", "paused": false }));
    page.say(json!({ "do": "pace", "pace": 0.0625 }));
    let (first, since) = (page.frame()["tick"].as_u64().expect("a tick"), Instant::now());
    let passed = page.wait_until("time passes", |now| now["tick"].as_u64() > Some(first + 1));
    let ticks = passed["tick"].as_u64().expect("a tick") - first;
    assert!(since.elapsed().as_secs_f64() * 60.0 / 16.0 > ticks as f64 - 1.5, "{ticks} ticks");
    page.say(json!({ "do": "pace", "pace": 100 }));
    assert!(page.frame()["message"].as_str().expect("a message").contains("between 1/16 and 4"));
}

#[test]
fn numbers_are_felt_at_once_shown_beside_a_ghost_taken_back_and_saved() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let before = desk.read("gardener.toml");
    let mut page = play.page();
    let first = page.frame();
    assert_eq!((&first["ghost"], &first["numbers"]["changed"]), (&Value::Null, &json!(false)));
    page.say(number(90.0, false));
    page.say(number(120.0, true));
    page.say(key("right", true));
    let now = page.wait_until("the ghost stays behind", |now| {
        now["ghost"][0].as_f64().is_some_and(|ghost| x_of(now) > ghost + 5.0)
    });
    let top = |now: &Value, of: &str| now["numbers"][of][0][1].as_f64().map(f64::round);
    assert_eq!((top(&now, "feel"), top(&now, "feel_of_file")), (Some(120.0), Some(60.0)));
    // A slider that was dragged is one change.
    page.say(json!({ "do": "undo" }));
    let undone = page.frame();
    assert_eq!((top(&undone, "feel"), &undone["ghost"]), (Some(60.0), &Value::Null));
    page.say(number(100.0, false));
    page.say(json!({ "do": "save" }));
    let saved = page.frame();
    assert!(saved["message"].as_str().expect("a message").contains("saved the numbers"), "{saved}");
    assert_eq!((&saved["ghost"], &saved["numbers"]["changed"]), (&Value::Null, &json!(false)));
    let (before, after) =
        (String::from_utf8(before).expect("text"), String::from_utf8(desk.read("gardener.toml")));
    let after = after.expect("text");
    let changed: Vec<(&str, &str)> = before.lines().zip(after.lines()).filter(|(a, b)| a != b).collect();
    assert_eq!((before.lines().count(), changed.len()), (after.lines().count(), 1), "{changed:?}");
    // The ghost of later changes has the saved numbers.
    page.say(number(200.0, false));
    page.say(json!({ "do": "restart" }));
    let anew = page.frame();
    assert_eq!((top(&anew, "feel"), top(&anew, "feel_of_file")), (Some(200.0), Some(100.0)));
    page.say(json!({ "do": "revert" }));
    assert_eq!(top(&page.frame(), "feel"), Some(100.0));
    page.say(number(-4.0, false));
    assert!(page.frame()["message"].as_str().expect("a message").contains("gait.top_speed cannot be -4"));
}

#[rstest]
#[case::the_page("GET {path}/ HTTP/1.1\r\nHost: {host}\r\n", 200, "<!doctype html>")]
#[case::by_name("GET {path}/ HTTP/1.1\r\nHost: localhost:{port}\r\n", 200, "<!doctype html>")]
#[case::its_script("GET {path}/play.js HTTP/1.1\r\nHost: {host}\r\n", 200, "WebSocket")]
#[case::another_host("GET {path}/ HTTP/1.1\r\nHost: greenhouse.example:{port}\r\n", 403, "is not this one")]
#[case::no_host("GET {path}/ HTTP/1.1\r\n", 403, "is not this one")]
#[case::another_port("GET {path}/ HTTP/1.1\r\nHost: 127.0.0.1:1\r\n", 403, "is not this one")]
#[case::no_secret("GET / HTTP/1.1\r\nHost: {host}\r\n", 403, "lacks its secret")]
#[case::a_wrong_secret(
    "GET /0123456789abcdef0123456789abcdef/ HTTP/1.1\r\nHost: {host}\r\n",
    403,
    "lacks its secret"
)]
#[case::half_a_secret("GET {half}/ HTTP/1.1\r\nHost: {host}\r\n", 403, "lacks its secret")]
#[case::another_origin(
    "GET {path}/ HTTP/1.1\r\nHost: {host}\r\nOrigin: http://greenhouse.example\r\n",
    403,
    "has no business here"
)]
#[case::another_page_s_socket(
    "GET {path}/play HTTP/1.1\r\nHost: {host}\r\nOrigin: http://greenhouse.example\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n",
    403,
    "has no business here"
)]
#[case::a_socket_of_no_page(
    "GET {path}/play HTTP/1.1\r\nHost: {host}\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n",
    400,
    "web socket of the page"
)]
#[case::no_socket("GET {path}/play HTTP/1.1\r\nHost: {host}\r\n", 400, "web socket of the page")]
#[case::writing("POST {path}/ HTTP/1.1\r\nHost: {host}\r\nContent-Length: 0\r\n", 405, "is not answered")]
#[case::another_file("GET {path}/../gardener.toml HTTP/1.1\r\nHost: {host}\r\n", 404, "there is no")]
fn only_the_page_of_this_play_is_let_in(#[case] request: &str, #[case] status: u16, #[case] says: &str) {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let request = request
        .replace("{path}", &format!("/{}", play.secret))
        .replace("{half}", &format!("/{}", &play.secret[..16]))
        .replace("{host}", &format!("127.0.0.1:{}", play.port))
        .replace("{port}", &play.port.to_string());
    let (found, answer) = play.ask(&format!("{request}Connection: close\r\n\r\n"));
    assert_eq!(found, status, "{answer}");
    assert!(answer.contains(says), "{answer}");
    // A refusal does not give the secret away.
    assert!(status == 200 || !answer.contains(&play.secret), "{answer}");
}

#[test]
fn the_page_loads_nothing_from_elsewhere() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let host = format!("Host: 127.0.0.1:{}\r\nConnection: close\r\n\r\n", play.port);
    for file in ["", "play.js"] {
        let (_, answer) = play.ask(&format!("GET /{}/{file} HTTP/1.1\r\n{host}", play.secret));
        assert!(answer.contains("Content-Security-Policy: default-src 'none'"), "{answer}");
        let text = answer.replace("http://www.w3.org/2000/svg", "");
        let found = ["http://", "https://", "src=\"//", "@import", "url("]
            .into_iter()
            .find(|word| text.contains(word));
        assert_eq!(found, None);
    }
}

#[rstest]
#[case::no_json("walk right", "expected value")]
#[case::no_object("[1, 2]", "invalid type")]
#[case::unknown("{\"do\":\"dig\"}", "unknown variant `dig`")]
#[case::too_much("{\"do\":\"stick\",\"to\":[0,0],\"z\":1}", "unknown field `z`")]
#[case::too_little("{\"do\":\"key\",\"key\":\"left\"}", "missing field `down`")]
#[case::no_key("{\"do\":\"key\",\"key\":\"sideways\",\"down\":true}", "unknown variant `sideways`")]
#[case::no_number("{\"do\":\"pace\",\"pace\":1e999}", "number out of range")]
#[case::below_zero("{\"do\":\"actor\",\"actor\":-1}", "invalid value")]
fn a_message_that_is_wrong_is_refused_and_logged_and_the_play_goes_on(#[case] text: &str, #[case] why: &str) {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut page = play.page();
    page.0.send(Message::text(text)).expect("the connection stands");
    let answer = page.answer();
    assert!(answer["refused"].as_str().expect("a reason").contains(why), "{answer}");
    page.wait_ticks(5);
    page.say(json!({ "do": "end" }));
    assert_eq!(page.answer(), json!({ "ended": true }));
    drop(page);
    let (status, _, complaints) = play.ended();
    assert_eq!(status, Some(0));
    assert!(complaints.contains(why), "{complaints}");
}

/// What is well said and cannot be done says so; what is absurd does nothing.
#[rstest]
#[case::an_actor(json!({ "do": "actor", "actor": 99 }), "no such actor")]
#[case::the_same_actor(json!({ "do": "actor", "actor": 0 }), "no other actor")]
#[case::a_number(json!({ "do": "number", "way": "gait.charm", "value": 1, "goes_on": false }), "no number gait.charm")]
#[case::a_flick(json!({ "do": "flick", "from": [0, 0], "to": [9, 9], "seconds": 0.1 }), "no `flick`")]
#[case::a_shot(json!({ "do": "shoot", "toward": [9, 9] }), "no `shots`")]
#[case::a_serve(json!({ "do": "serve" }), "holds no ball")]
#[case::keeping_nothing(json!({ "do": "keep" }), "nothing was played")]
#[case::saving_nothing(json!({ "do": "save" }), "no number was changed")]
#[case::a_pace(json!({ "do": "pace", "pace": 0 }), "between 1/16 and 4")]
#[case::a_stick_far_out(json!({ "do": "stick", "to": [1e30, -1e39] }), "")]
fn what_cannot_be_done_is_said(#[case] message: Value, #[case] why: &str) {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut page = play.page();
    page.say(message);
    let now = page.frame();
    assert!(now["message"].as_str().expect("a message").contains(why), "{now}");
    page.wait_ticks(5);
}

#[rstest]
#[case::too_long(Message::text("x".repeat(20_000)))]
#[case::bytes(Message::binary(vec![0u8, 1, 2, 255]))]
fn a_page_that_sends_no_messages_is_hung_up_on(#[case] garbage: Message) {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut page = play.page();
    page.wait_ticks(2);
    let _ = page.0.send(garbage);
    let start = Instant::now();
    while page.0.read().is_ok() {
        assert!(start.elapsed() < PATIENCE, "it was listened to");
    }
    play.page().wait_ticks(2);
}

#[test]
fn bytes_that_are_no_request_do_no_harm() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    for garbage in ["\0\u{1}\u{7f}\r\n\r\n", "GET\r\n\r\n", "GET / HTTP/9.9\r\n\r\n", "\r\n\r\n\r\n"] {
        let mut stream = TcpStream::connect(("127.0.0.1", play.port)).expect("the port is open");
        let _ = stream.write_all(garbage.as_bytes());
    }
    play.page().wait_ticks(2);
}

#[test]
fn a_page_that_disappears_pauses_and_one_that_comes_is_in_control() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut first = play.page();
    let start = x_of(&first.frame());
    first.say(key("right", true));
    let before = first.wait_until("it moves", |now| x_of(now) > start + 5.0);
    drop(first);
    std::thread::sleep(Duration::from_millis(200));
    let mut second = play.page();
    let after = second.frame();
    // The last picture came before the page was closed, and none of the time since has passed.
    assert_eq!(after["tick"], before["tick"]);
    let later = second.wait_ticks(3);
    assert_eq!(later["rows"][0][0][4], json!(0.0), "the key was let go: {later}");
    let mut third = play.page();
    third.wait_ticks(3);
    second.say(key("left", true));
    assert_eq!(second.answer(), json!({ "taken": true }));
    assert_eq!(third.wait_ticks(3)["rows"][0][0][4], json!(0.0));
    // A page that lost control takes nothing with it.
    drop(second);
    third.wait_ticks(3);
}

#[rstest]
#[case::the_page_ends_it(None)]
#[case::a_signal_ends_it(Some("INT"))]
#[case::it_is_asked_to_end(Some("TERM"))]
fn at_the_end_it_says_what_is_worth_knowing(#[case] signal: Option<&str>) {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    let mut page = play.page();
    page.wait_ticks(2);
    page.say(number(75.0, false));
    page.say(json!({ "do": "keep" }));
    page.frame();
    match signal {
        None => page.say(json!({ "do": "end" })),
        Some(signal) => {
            let kill =
                Command::new("kill").args([&format!("-{signal}"), &play.child.id().to_string()]).status();
            assert!(kill.expect("kill").success());
        }
    }
    let (status, out, _) = play.ended();
    assert_eq!(status, Some(0));
    assert!(out.contains("wrote gardener-played.toml"), "{out}");
    assert!(out.contains("not saved: gait.top_speed = 75 (file: 60)"), "{out}");
    assert!(out.contains("as Rust: Gait::new(75.0"), "{out}");
}

/// The script of the page, where node is installed, on the page and the answers of the tool itself.
#[test]
fn the_script_of_the_page_says_what_the_hand_does_and_draws_the_answers() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    for (file, name) in [("", "page.html"), ("play.js", "play.js")] {
        let host = format!("Host: 127.0.0.1:{}\r\nConnection: close\r\n\r\n", play.port);
        let (_, answer) = play.ask(&format!("GET /{}/{file} HTTP/1.0\r\n{host}", play.secret));
        desk.write(name, answer.split_once("\r\n\r\n").expect("a body").1);
    }
    let mut page = play.page();
    let start = page.frame();
    page.say(key("right", true));
    let moving = page.wait_until("it moves", |now| x_of(now) > x_of(&start) + 5.0);
    page.say(number(90.0, false));
    let tuned = page.wait_ticks(10);
    desk.write("answers.json", json!([start, moving, tuned]).to_string());
    let checks = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/browser.mjs");
    let files = ["page.html", "play.js", "answers.json"].map(|name| desk.path(name));
    let Ok(checked) = Command::new("node").arg(checks).args(files).output() else {
        println!("node is not installed: the page's script is not tested");
        return;
    };
    assert!(checked.status.success(), "{}", String::from_utf8_lossy(&checked.stderr));
    let said = String::from_utf8(checked.stdout).expect("text");
    let count = said.split(' ').next().and_then(|count| count.parse::<u32>().ok());
    assert!(count.is_some_and(|count| count > 25), "{said}");
}

#[test]
fn a_port_that_is_taken_is_said() {
    let desk = Desk::new();
    let play = Play::start(&desk, "gardener");
    desk.ambulant(&format!("play gardener.toml --browser --port {}", play.port))
        .failure()
        .stderr(predicate::str::contains(format!("cannot listen on port {}", play.port)));
    desk.ambulant("play gardener.toml --port 80").failure().stderr(predicate::str::contains("--browser"));
}
