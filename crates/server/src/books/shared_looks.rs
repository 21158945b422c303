//! One look for all who ask in the same instant: two hundred screens that hear of one stamp read their batch at once, and each look
//! costs the processor milliseconds.
//!
//! Whoever asks while a look is under way waits for the next one, which begins after they asked: nobody is ever given a look that is
//! older than their question. Nothing is kept.

use actix_web::web::Bytes;
use std::collections::HashMap;
use std::future::Future;
use std::hash::Hash;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use tokio::sync::oneshot;

/// Those who wait for a look that has not begun.
type Waiting = Vec<oneshot::Sender<Bytes>>;

#[derive(Default)]
struct Turn {
    /// The next look: somebody leads it, these wait for it. None: nobody asked since the last one began.
    next: Option<Waiting>,
    /// Held by the look under way.
    running: Arc<tokio::sync::Mutex<()>>,
}

/// Looks by what they are of.
pub struct Looks<K>(Arc<Mutex<HashMap<K, Turn>>>);

impl<K> Default for Looks<K> {
    fn default() -> Self {
        Looks(Arc::default())
    }
}

impl<K> Clone for Looks<K> {
    fn clone(&self) -> Self {
        Looks(self.0.clone())
    }
}

enum Part<K: Hash + Eq + Clone> {
    Leads(Lead<K>),
    Follows(oneshot::Receiver<Bytes>),
}

/// Whoever leads a look. Dropped before it was done, as when its browser went away, those who wait for it look for themselves.
struct Lead<K: Hash + Eq + Clone> {
    looks: Looks<K>,
    key: K,
    running: Arc<tokio::sync::Mutex<()>>,
    begun: bool,
}

impl<K: Hash + Eq + Clone> Lead<K> {
    /// From now on who asks waits for the look after this one.
    fn begin(&mut self) -> Waiting {
        self.begun = true;
        self.looks.turns().get_mut(&self.key).and_then(|turn| turn.next.take()).unwrap_or_default()
    }
}

impl<K: Hash + Eq + Clone> Drop for Lead<K> {
    fn drop(&mut self) {
        let mut turns = self.looks.turns();
        if let Some(turn) = turns.get_mut(&self.key) {
            if !self.begun {
                turn.next = None;
            }
            // Nobody waits and nobody else holds it: nothing of it is kept.
            if turn.next.is_none() && Arc::strong_count(&turn.running) <= 2 {
                turns.remove(&self.key);
            }
        }
    }
}

impl<K: Hash + Eq + Clone> Looks<K> {
    fn turns(&self) -> MutexGuard<'_, HashMap<K, Turn>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn part(&self, key: &K) -> Part<K> {
        let mut turns = self.turns();
        let turn = turns.entry(key.clone()).or_default();
        if let Some(waiting) = &mut turn.next {
            let (tell, told) = oneshot::channel();
            waiting.push(tell);
            return Part::Follows(told);
        }
        turn.next = Some(Vec::new());
        Part::Leads(Lead { looks: self.clone(), key: key.clone(), running: turn.running.clone(), begun: false })
    }

    /// What a look says that began after this was asked.
    ///
    /// **Errors:** those of the look, for whoever led it; who waited looks for themselves.
    pub async fn shared<E, F: Future<Output = Result<Bytes, E>>>(&self, key: K, look: impl Fn() -> F) -> Result<Bytes, E> {
        match self.part(&key) {
            Part::Follows(told) => match told.await {
                Ok(bytes) => Ok(bytes),
                Err(_) => look().await,
            },
            Part::Leads(mut lead) => {
                let running = lead.running.clone();
                let _running = running.lock().await;
                let waiting = lead.begin();
                let bytes = look().await?;
                for tell in waiting {
                    // Whoever went away hears nothing.
                    let _ = tell.send(bytes.clone());
                }
                Ok(bytes)
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::Looks;
    use actix_web::web::Bytes;
    use std::sync::Arc;
    use std::sync::atomic::{AtomicUsize, Ordering};
    use tokio::sync::Semaphore;

    fn look(count: &Arc<AtomicUsize>, gate: &Arc<Semaphore>) -> impl Future<Output = Result<Bytes, String>> + use<> {
        let (count, gate) = (count.clone(), gate.clone());
        async move {
            let n = count.fetch_add(1, Ordering::SeqCst);
            gate.acquire().await.map_err(|e| e.to_string())?.forget();
            Ok(Bytes::from(n.to_string()))
        }
    }

    #[tokio::test]
    async fn who_asks_while_a_look_is_under_way_is_given_the_next_one() {
        let (looks, count, gate) = (Looks::<u8>::default(), Arc::new(AtomicUsize::new(0)), Arc::new(Semaphore::new(0)));
        let ask = || {
            let (looks, count, gate) = (looks.clone(), count.clone(), gate.clone());
            tokio::spawn(async move { looks.shared(1, || look(&count, &gate)).await })
        };
        let first = ask();
        while count.load(Ordering::SeqCst) == 0 {
            tokio::task::yield_now().await;
        }
        let others: Vec<_> = (0..50).map(|_| ask()).collect();
        while looks.turns().get(&1).and_then(|t| t.next.as_ref()).is_none_or(|next| next.len() < 49) {
            tokio::task::yield_now().await;
        }
        gate.add_permits(2);
        assert_eq!(first.await.unwrap().unwrap(), "0");
        for other in others {
            assert_eq!(other.await.unwrap().unwrap(), "1", "one look for all fifty, begun after they asked");
        }
        assert_eq!(count.load(Ordering::SeqCst), 2);
        assert!(looks.turns().is_empty(), "nothing is kept");
    }

    #[tokio::test]
    async fn who_waited_for_one_that_went_away_looks_for_themselves() {
        let (looks, count, gate) = (Looks::<u8>::default(), Arc::new(AtomicUsize::new(0)), Arc::new(Semaphore::new(0)));
        let ask = || {
            let (looks, count, gate) = (looks.clone(), count.clone(), gate.clone());
            tokio::spawn(async move { looks.shared(1, || look(&count, &gate)).await })
        };
        let first = ask();
        while count.load(Ordering::SeqCst) == 0 {
            tokio::task::yield_now().await;
        }
        let lead = ask();
        while looks.turns().get(&1).is_none_or(|t| t.next.is_none()) {
            tokio::task::yield_now().await;
        }
        let follower = ask();
        while looks.turns().get(&1).and_then(|t| t.next.as_ref()).is_none_or(Vec::is_empty) {
            tokio::task::yield_now().await;
        }
        lead.abort();
        let _ = lead.await;
        gate.add_permits(2);
        assert!(first.await.unwrap().is_ok());
        assert_eq!(follower.await.unwrap().unwrap(), "1");
    }

    #[tokio::test]
    async fn a_look_that_fails_is_told_to_who_led_it() {
        let looks = Looks::<u8>::default();
        let failed = looks.shared(1, || async { Err::<Bytes, &str>("no batch") }).await;
        assert_eq!(failed, Err("no batch"));
        assert!(looks.turns().is_empty());
    }
}
