//! Footprints, responses and places as words on a command line or in a question.

use ambulant::shape::Footprint;
use ambulant::travel::Response;
use glam::Vec2;

/// A response with the word for it.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Reaction {
    pub(crate) word: String,
    pub(crate) response: Response,
}

/// `box:W,H` or `circle:R`, in units.
///
/// # Errors
/// When it is neither, or a size is not above 0.
pub(crate) fn footprint(text: &str) -> Result<Footprint, String> {
    let wanted = || format!("{text:?} is no footprint; write box:WIDTH,HEIGHT or circle:RADIUS, in units");
    let made = match text.split_once(':').ok_or_else(wanted)? {
        ("box", sizes) => {
            let sizes = two_numbers(sizes).map_err(|_| wanted())?;
            Footprint::rect(sizes.x, sizes.y)
        }
        ("circle", radius) => Footprint::circle(radius.parse().map_err(|_| wanted())?),
        _ => return Err(wanted()),
    };
    made.map_err(|error| error.to_string())
}

/// `slide`, `slide-full-speed`, `round-corner:REACH`, `bounce`, `bounce:RESTITUTION`, `stop` or `pass-through`.
///
/// # Errors
/// When it is none of them, or its number is not finite and at least 0.
pub(crate) fn reaction(text: &str) -> Result<Reaction, String> {
    let (word, number) = text.split_once(':').map_or((text, None), |(word, number)| (word, Some(number)));
    let number = match number {
        Some(number) => {
            let parsed: Option<f32> = number.parse().ok().filter(|n: &f32| n.is_finite() && *n >= 0.0);
            Some(
                parsed
                    .ok_or_else(|| format!("{number:?} in {text:?} is not a finite number of at least 0"))?,
            )
        }
        None => None,
    };
    let response = match (word, number) {
        ("slide", None) => Response::Slide,
        ("slide-full-speed", None) => Response::SlideFullSpeed,
        ("round-corner", Some(reach)) => Response::round_corner(reach),
        ("bounce", restitution) => Response::bounce(restitution.unwrap_or(1.0)),
        ("stop", None) => Response::Stop,
        ("pass-through", None) => Response::PassThrough,
        _ => {
            return Err(format!(
                "{text:?} is no response; write slide, slide-full-speed, round-corner:REACH, bounce:RESTITUTION, stop or pass-through"
            ));
        }
    };
    Ok(Reaction { word: text.to_owned(), response })
}

/// `X,Y`, both finite.
///
/// # Errors
/// When it is not two finite numbers.
pub(crate) fn two_numbers(text: &str) -> Result<Vec2, String> {
    let parts: Vec<Option<f32>> = text.split(',').map(|part| part.trim().parse().ok()).collect();
    match parts[..] {
        [Some(x), Some(y)] if Vec2::new(x, y).is_finite() => Ok(Vec2::new(x, y)),
        _ => Err(format!("{text:?} is not two finite numbers such as 40,24.5")),
    }
}
