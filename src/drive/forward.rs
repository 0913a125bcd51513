//! Passes every call of a drive on to another one.

/// The methods of [`Drive`](super::Drive), passed on to the drive that an expression gives.
macro_rules! forwarded {
    (|$this:ident| $drive:expr) => {
        fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
            let $this = self;
            $drive.advance(from, intent, on, dt)
        }

        fn top_speed(&self) -> f32 {
            let $this = self;
            $drive.top_speed()
        }

        fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
            let $this = self;
            $drive.momentum_after(from, intent, on, dt)
        }

        fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
            let $this = self;
            $drive.response(intent, on)
        }

        fn acceleration_of(&self, from: Momentum, intent: Intent, on: &Surface) -> Vec2 {
            let $this = self;
            $drive.acceleration_of(from, intent, on)
        }

        fn advance_along(
            &self,
            from: Momentum,
            intent: Intent,
            on: &Surface,
            normal: Vec2,
            dt: f32,
        ) -> Motion {
            let $this = self;
            $drive.advance_along(from, intent, on, normal, dt)
        }

        fn belt_of(&self, on: &Surface) -> Vec2 {
            let $this = self;
            $drive.belt_of(on)
        }

        fn steers(&self) -> bool {
            let $this = self;
            $drive.steers()
        }

        fn pushes(&self) -> bool {
            let $this = self;
            $drive.pushes()
        }

        fn heeded(&self, intent: Intent) -> Intent {
            let $this = self;
            $drive.heeded(intent)
        }

        fn axis(&self) -> Option<Axis> {
            let $this = self;
            $drive.axis()
        }

        fn turning_circle(&self) -> Option<f32> {
            let $this = self;
            $drive.turning_circle()
        }
    };
}

pub(super) use forwarded;
