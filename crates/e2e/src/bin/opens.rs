//! How long a station takes to open after the tap, in a real browser: `opens ADDRESS [ROUNDS]`, on a running demo.

use level_keel_e2e::Browser;

/// Clicks a float of the waterline and answers, in milliseconds, when its station is drawn.
const OPEN: &str = "const [n, done] = arguments, before = document.querySelector('.station .do'), from = performance.now();
    document.querySelectorAll('.waterline button')[n].click();
    const look = () => {
        const now = document.querySelector('.station .do');
        if (now && now !== before && !before.isConnected) requestAnimationFrame(() => setTimeout(() => done(performance.now() - from)));
        else requestAnimationFrame(look);
    };
    look();";

#[tokio::main]
async fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let address = args.first().expect("the address of a running demo");
    let rounds: usize = args.get(1).and_then(|n| n.parse().ok()).unwrap_or(20);
    let browser = Browser::start().await;
    browser.sign_in(address, "Brok Tarn", "2468").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{address}/batches/{id}?at=1")).await;
    browser.wait(".station .do").await;
    let mut times = Vec::new();
    for round in 0..=rounds {
        for station in [1, 2, 3, 4, 5, 0] {
            let took = browser.client.execute_async(OPEN, vec![station.into()]).await.expect("a script");
            // The first round loads the code of each station; it is cached from then on.
            if round > 0 {
                times.push(took.as_f64().expect("milliseconds"));
            }
        }
    }
    times.sort_by(f64::total_cmp);
    let at = |percent: usize| times[(times.len() - 1) * percent / 100];
    println!("a station opens: p50 {:.0} ms, p95 {:.0} ms, most {:.0} ms, of {}", at(50), at(95), at(100), times.len());
}
