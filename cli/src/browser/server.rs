//! The page on this machine: answers a browser, and hands on what the page says.
//!
//! It listens on the loopback address only, and answers only requests for this host with the secret in their address. Each page has a thread, which waits for a message, hands it on and sends the answer.

use std::io::{Cursor, Read, Write};
use std::net::{Ipv4Addr, SocketAddr, TcpListener};
use std::sync::mpsc::{Receiver, Sender, channel};

use anyhow::{Context, anyhow};
use tiny_http::{Header, Method, Request, Response};
use tungstenite::handshake::derive_accept_key;
use tungstenite::protocol::{Role, WebSocket, WebSocketConfig};

/// The longest message of a page, in bytes.
const LONGEST: usize = 16 * 1024;
/// Bytes of the secret.
const SECRET: usize = 16;

/// What came from a page.
pub(super) struct Said {
    /// Which page, by the order in which they came.
    pub(super) page: u64,
    pub(super) what: What,
}

pub(super) enum What {
    Opened,
    /// A message, and where its answer goes; none if there is nothing to say.
    Text(String, Sender<Option<String>>),
    Closed,
}

/// The files of a page.
pub(super) struct Files {
    pub(super) page: String,
    pub(super) script: String,
}

/// A server that runs until the program ends.
pub(super) struct Server {
    address: String,
    pub(super) said: Receiver<Said>,
}

impl Server {
    /// Listens on a port of the loopback address; 0 for any free one.
    ///
    /// # Errors
    /// When the port is taken, or there is no source of secrets.
    pub(super) fn start(port: u16, files: Files) -> anyhow::Result<Self> {
        let listener = TcpListener::bind(SocketAddr::from((Ipv4Addr::LOCALHOST, port)))
            .with_context(|| format!("cannot listen on port {port}; --port 0 takes a free one"))?;
        let port = listener.local_addr()?.port();
        let mut bytes = [0; SECRET];
        getrandom::fill(&mut bytes).map_err(|error| anyhow!("no secret for the address: {error}"))?;
        let secret: String = bytes.iter().map(|byte| format!("{byte:02x}")).collect();
        let http = tiny_http::Server::from_listener(listener, None)
            .map_err(|error| anyhow!("cannot serve the page: {error}"))?;
        let (to_game, said) = channel();
        let gate = Gate { port, secret: secret.clone() };
        std::thread::spawn(move || serve(&http, &gate, &files, &to_game));
        Ok(Self { address: format!("http://127.0.0.1:{port}/{secret}/"), said })
    }

    /// Where the page is.
    pub(super) fn address(&self) -> &str {
        &self.address
    }
}

/// Answers requests, until there are no more.
fn serve(http: &tiny_http::Server, gate: &Gate, files: &Files, to_game: &Sender<Said>) {
    let mut pages = 0;
    for request in http.incoming_requests() {
        match gate.check(&request) {
            Err((status, why)) => {
                eprintln!("refused a request: {why}");
                answer(request, status, "text/plain; charset=utf-8", &format!("{why}\n"));
            }
            Ok(Asked::Page) => answer(request, 200, "text/html; charset=utf-8", &files.page),
            Ok(Asked::Script) => answer(request, 200, "text/javascript; charset=utf-8", &files.script),
            Ok(Asked::Socket(key)) => {
                pages += 1;
                let (page, to_game) = (pages, to_game.clone());
                std::thread::spawn(move || talk(socket(request, &key), page, &to_game));
            }
        }
    }
}

/// Sends a text, with all that keeps it to itself.
fn answer(request: Request, status: u16, kind: &str, text: &str) {
    let mut response = Response::from_string(text).with_status_code(status);
    let policy = "default-src 'none'; script-src 'self'; style-src 'unsafe-inline'; connect-src 'self'; \
                  img-src data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";
    let headers = [
        ("Content-Type", kind),
        ("Content-Security-Policy", policy),
        ("Cache-Control", "no-store"),
        ("Referrer-Policy", "no-referrer"),
        ("X-Content-Type-Options", "nosniff"),
    ];
    for (name, value) in headers {
        response.add_header(header(name, value));
    }
    // A browser that went away needs no answer.
    let _ = request.respond(response);
}

fn header(name: &str, value: &str) -> Header {
    Header::from_bytes(name, value).expect("a header of plain letters")
}

/// What a request asks for.
enum Asked {
    Page,
    Script,
    /// A connection for messages, with the key of its handshake.
    Socket(String),
}

/// Decides which requests are answered.
struct Gate {
    port: u16,
    secret: String,
}

impl Gate {
    /// What a request asks for, or the status and the reason with which it is refused.
    fn check(&self, request: &Request) -> Result<Asked, (u16, String)> {
        let value = |name: &'static str| {
            let found = request.headers().iter().find(|header| header.field.equiv(name));
            found.map(|header| header.value.as_str())
        };
        let hosts = ["127.0.0.1", "localhost"].map(|host| format!("{host}:{}", self.port));
        let host = value("Host").unwrap_or_default();
        if !hosts.iter().any(|known| known == host) {
            return Err((403, format!("the host {host:?} is not this one")));
        }
        let is_own = |origin: &str| hosts.iter().any(|known| origin == format!("http://{known}"));
        let origin = value("Origin");
        if let Some(other) = origin.filter(|origin| !is_own(origin)) {
            return Err((403, format!("a page of {other:?} has no business here")));
        }
        let path = request.url().strip_prefix('/').and_then(|path| path.split_once('/'));
        let Some((_, file)) = path.filter(|(secret, _)| *secret == self.secret) else {
            return Err((403, "the address lacks its secret: open the one that ambulant printed".to_owned()));
        };
        if *request.method() != Method::Get {
            return Err((405, format!("{} is not answered here", request.method())));
        }
        match (file, value("Sec-WebSocket-Key")) {
            ("", _) => Ok(Asked::Page),
            ("play.js", _) => Ok(Asked::Script),
            // Browsers always say from which page a connection comes.
            ("play", Some(key)) if origin.is_some() => Ok(Asked::Socket(key.to_owned())),
            ("play", _) => Err((400, "messages come over a web socket of the page".to_owned())),
            _ => Err((404, format!("there is no {file:?} here"))),
        }
    }
}

trait Stream: Read + Write {}
impl<T: Read + Write> Stream for T {}

/// Takes a connection for messages.
fn socket(request: Request, key: &str) -> WebSocket<impl Stream> {
    let accept = header("Sec-WebSocket-Accept", &derive_accept_key(key.as_bytes()));
    let response = Response::new(101.into(), vec![accept], Cursor::new(Vec::new()), Some(0), None);
    let stream = request.upgrade("websocket", response);
    let limits = WebSocketConfig::default().max_message_size(Some(LONGEST)).max_frame_size(Some(LONGEST));
    WebSocket::from_raw_socket(stream, Role::Server, Some(limits))
}

/// Hands on the messages of a page, and sends the answers.
fn talk(mut socket: WebSocket<impl Stream>, page: u64, to_game: &Sender<Said>) {
    let say = |what: What| to_game.send(Said { page, what }).is_ok();
    let mut goes_on = say(What::Opened);
    while goes_on {
        goes_on = match socket.read() {
            Ok(tungstenite::Message::Text(text)) => {
                let (to_page, answer) = channel();
                let heard = say(What::Text(text.to_string(), to_page));
                match answer.recv() {
                    Ok(Some(answer)) if heard => socket.send(tungstenite::Message::text(answer)).is_ok(),
                    Ok(None) => true,
                    _ => false,
                }
            }
            Ok(tungstenite::Message::Binary(_)) => {
                eprintln!("refused a message: it is not text");
                false
            }
            // Pings are answered while reading; after a close the next read fails.
            Ok(_) => true,
            Err(tungstenite::Error::ConnectionClosed | tungstenite::Error::AlreadyClosed) => false,
            // A read that a signal interrupted is not the end of a connection.
            Err(tungstenite::Error::Io(error)) => error.kind() == std::io::ErrorKind::Interrupted,
            Err(error) => {
                eprintln!("refused a message: {error}");
                false
            }
        };
    }
    let _ = socket.close(None);
    let _ = socket.flush();
    say(What::Closed);
}
