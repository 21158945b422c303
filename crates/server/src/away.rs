//! When the database is away. Whoever asks is told within three seconds, with a problem that says what to do, instead of
//! waiting for a connection that does not come.

use crate::problem::Problem;
use crate::pulse::AGAIN_S;
use crate::state::State;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{HttpResponse, get, web};
use std::time::Duration;
use tokio::time::{sleep, timeout};

/// How long a request may take before it is asked whether the database is there at all.
const ASKED_AFTER: Duration = Duration::from_secs(1);
/// How long somebody who asks for nothing else has patience.
const HEALTH_IN: Duration = Duration::from_millis(900);

/// A request that takes long is given up once the database does not answer; what the database has begun it may still end.
pub async fn told_in_time(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let pulse = req.app_data::<web::Data<State>>().filter(|_| req.path().starts_with("/api/")).map(|s| s.pulse.clone());
    let answer = next.call(req);
    let Some(pulse) = pulse else { return answer.await };
    tokio::pin!(answer);
    loop {
        let missed = async {
            sleep(ASKED_AFTER).await;
            !pulse.beats().await
        };
        tokio::select! {
            answered = &mut answer => return answered,
            missed = missed => if missed { return Err(Problem::Away.into()) },
        }
    }
}

/// Whether the server is up and reaches its database.
#[get("/healthz")]
pub async fn healthz(state: web::Data<State>) -> HttpResponse {
    match timeout(HEALTH_IN, state.pulse.beats()).await {
        Ok(true) => HttpResponse::Ok().body("ok"),
        _ => HttpResponse::ServiceUnavailable().insert_header(("Retry-After", AGAIN_S)).body("no database"),
    }
}
