//! Photographs: bounded in number whoever adds at once, tied to their conversion, never of another workspace.

use joulethesis_store::testing::TestDatabase;
use joulethesis_store::{MOST_PHOTOGRAPHS, NewPhotograph, StoreError};
use uuid::Uuid;

use crate::store::{demo, new};

fn photograph(caption: &str) -> NewPhotograph {
    let [picture, thumbnail] = [40, 10].map(|n| vec![7_u8; n]);
    NewPhotograph { caption: caption.to_owned(), about: String::new(), width: 4, height: 3, picture, thumbnail }
}

#[tokio::test(flavor = "multi_thread")]
async fn as_many_as_are_accepted_are_kept_however_many_are_added_at_once() {
    let db = TestDatabase::new().await;
    let id = db.store.add_conversion(new("Whimbrel", vec![demo("whimbrel-9-a")])).await.expect("added").head.id;
    let all = MOST_PHOTOGRAPHS as usize + 12;
    let adding = (0..all).map(|i| {
        let store = db.store.clone();
        tokio::spawn(async move { store.add_photograph(id, photograph(&i.to_string())).await })
    });
    let (mut kept, mut refused) = (0, 0);
    for added in adding.collect::<Vec<_>>() {
        match added.await.expect("it ends") {
            Ok(_) => kept += 1,
            Err(StoreError::Invalid(error)) => {
                assert_eq!(error.problems()[0].path, "picture");
                refused += 1;
            }
            Err(other) => panic!("{other}"),
        }
    }
    assert_eq!((kept, refused), (MOST_PHOTOGRAPHS as usize, 12));
    let listed = db.store.photographs(id).await.expect("a list");
    assert_eq!(listed.len(), kept);
    assert!(listed.windows(2).all(|w| (w[0].added_at, w[0].id) < (w[1].added_at, w[1].id)), "in the order they came");
    // One gone makes room for one.
    db.store.remove_photograph(listed[0].id).await.expect("removed");
    assert!(db.store.add_photograph(id, photograph("again")).await.is_ok());
    assert!(db.store.add_photograph(id, photograph("one more")).await.is_err());
    db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_photograph_goes_with_its_conversion_and_is_not_seen_from_elsewhere() {
    let db = TestDatabase::new().await;
    let store = &db.store;
    let [first, second] = [
        store.add_conversion(new("One", vec![demo("whimbrel-9-a")])).await.expect("added").head,
        store.add_conversion(new("Other", vec![demo("pipit-a")])).await.expect("added").head,
    ];
    let own = store.add_photograph(first.id, photograph("  Left side ")).await.expect("added");
    let other = store.add_photograph(second.id, photograph("")).await.expect("added");
    assert_eq!((own.caption.as_str(), own.width, own.height), ("Left side", 4, 3));
    assert_eq!(
        (store.picture(own.id, false).await.expect("pixels").len(), store.picture(own.id, true).await.expect("pixels").len()),
        (40, 10)
    );
    let told = store.describe_photograph(own.id, "Nose", "Engine").await.expect("described");
    assert_eq!((told.caption.as_str(), told.about.as_str(), told.added_at), ("Nose", "Engine", own.added_at));
    for (caption, about, key) in [("a\u{7}b", "", "caption"), ("", &*"y".repeat(301), "about")] {
        match store.describe_photograph(own.id, caption, about).await {
            Err(StoreError::Invalid(error)) => assert_eq!(error.problems()[0].path, key),
            other => panic!("{other:?}"),
        }
    }
    // Of another workspace nothing is listed, shown, described or removed.
    db.execute(
        "INSERT INTO workspaces (id, name) VALUES ('00000000-0000-0000-0000-000000000002', 'Theirs');
         UPDATE conversions SET workspace_id = '00000000-0000-0000-0000-000000000002' WHERE name = 'One'",
    )
    .await;
    let gone = |e: StoreError| matches!(e, StoreError::NotFound(_));
    assert!(store.photographs(first.id).await.is_err_and(gone) && store.picture(own.id, true).await.is_err_and(gone));
    assert!(store.describe_photograph(own.id, "", "").await.is_err_and(gone) && store.remove_photograph(own.id).await.is_err_and(gone));
    assert!(store.add_photograph(first.id, photograph("")).await.is_err_and(gone));
    // With its conversion it goes for good, and what never was is not there.
    store.remove_conversion(second.id, second.version).await.expect("removed");
    assert!(store.picture(other.id, false).await.is_err_and(gone) && store.photographs(Uuid::now_v7()).await.is_err_and(gone));
    db.drop_database().await;
}
