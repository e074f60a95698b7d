/** What the command line says of itself. */
export const help = `Lapwing on the command line

  ./lapwing check FILE
      Lists errors, warnings and notes of a study file. Exit code 1 where there are errors.
  ./lapwing sequence FILE --participants 1-24 [--sitting 2] [--seed S] [--parts] [--json] [--out F]
      The trials of each participant in order: participant, group, place and name of the part, pass, sub-block, trial,
      row, then the table's columns; of the first sitting unless another is asked for. With --parts the order of parts
      only. Exit code 1 and the reason where an order is impossible. This is the plan where no one drops out.
  ./lapwing sequence CODE --release [--parts] [--json] [--out F]
      The same as participants of a study were really given it, on the release each of them took part in.
  ./lapwing balance FILE --participants 1-200 [--seed S] [--json] [--out F]
      How evenly many participants are spread: cells, parts at positions and after each other, rows over the block, runs and
      transitions of factors; the same in sentences on the error output.
  ./lapwing simulate FILE --participants 100 [--seed S] [--out F.csv]
      Records of simulated participants, in the columns of the export; what rules did, how many attempts practice took and
      how long sessions were in sentences on the error output.
  ./lapwing gaze FILE.csv [--by velocity|dispersion] [--areas A.csv] [--out F.csv]
      Fixations and saccades in samples of gaze: a table with time_ms and x_deg, y_deg, or those of both eyes (left_x_deg …), in
      degrees of visual angle; of each session by itself where it has a column session. With --areas what was looked at of
      each area of interest (name, kind, x, y, w, h or points), when first, how long and what then. With --simulate instead of a file: samples of a simulated viewer, with --seed S.
  ./lapwing gaze CODE --out F.csv
      Where the participants of a study looked: a line each sample, in degrees of visual angle, by the calibration that held.
  ./lapwing import FILE --owner EMAIL [--release]
      Adds a study file to the database. With --release also freezes it and prints an open entry link.
  ./lapwing export CODE --out F.zip [--format csv|spreadsheet|xlsx|sav|parquet|tsv|json|jsonl] [--codes]
      The data of a study: trials, answers, events, sessions and codebook, described for programs (datapackage.json) and
      with scripts that read them. With --codes also a table of participants' codes.
  ./lapwing export CODE --rows trial|answer|event|session --out F [--format …]
      One table alone.
  ./lapwing export CODE --recipe NAME --out F [--format …]
      The file a recipe of the study makes, in its own format or another.
  ./lapwing export CODE --layout psych-ds|bids --out F.zip
      All data in the layout of Psych-DS (CSV) or of BIDS (TSV; trials and events of each session).
  ./lapwing export CODE --whole --out F.lapwing-data.zip [--codes] [--wave NAME] [--finished]
      The study with its releases, waves, sessions, notes, exclusions and recipes, for another installation: all sessions,
      those of a wave, or the finished ones. With --codes also what leads to participants.
  ./lapwing import F.lapwing-data.zip [--owner EMAIL] [--codes] [--report]
      Takes such a file in. What is here is never written over, and what has been taken in before is passed over. With
      --report it only says what it would do. --owner is needed where the study is not here yet.
  ./lapwing rebuild [CODE]
      Makes the flat rows that results and exports read anew out of the records, of one study or of all. Lapwing does so by
      itself where it is needed; records are never changed.
  ./lapwing take-in F.lapwing-answers.json
      Adds the answers of a file a participant saved because the server stayed away. What is stored already stays.
  ./lapwing account add EMAIL [--name NAME] | password EMAIL | close EMAIL
      Adds an account, sets its password anew, or closes it so that nobody can sign in to it; its studies stay. The password
      is asked for, or read from the first line of the input.
  ./lapwing try-service [--port 8077]
      A small service to try a study with: it answers with the sum of the numbers it is told, their count, and the texts in
      one (said). ?wait=500 in its address answers after so many ms, ?status=500 with that status.
  ./lapwing panel [LINK] [--name STUDY] [--port 8078]
      A small recruiting panel to try a study's link with: it sends people with parameters of its own, takes them back, and
      shows who was counted as what. It keeps that only while it runs.
  ./lapwing bridge [--port 7711] [--folder F]
      Connects the browser of this computer with its devices; it listens to this computer only. Pair it with an installation
      by the code it shows (Collect, in the laboratory). What it keeps stands in F, otherwise in ~/.lapwing-bridge.
  ./lapwing amplifier [--port 7712] [--serial] [--silent]
      A stand-in for an amplifier with a marker line, to try a bridge with: it shows what arrives, and sends it back unless
      it is to be silent. With --serial it stands at a serial port of this computer (Linux).
  ./lapwing tracker [--port 7713] [--seed S] [--bad-eye left|right] [--looks-away N]
      A stand-in for an eye tracker that watches a simulated viewer, to try a bridge with. One eye can be tracked badly, and
      the viewer can look away from the Nth single point that is shown.
  ./lapwing backup FILE.zip
      A consistent copy of everything, made while the server runs: database, media, and the names of what was removed.
      As FILE.db the database alone.
  ./lapwing restore FILE
      Puts such a copy back into the data folder, while the server is stopped. What is there is put aside, not written over;
      what was removed since stays removed.

FILE is a *.lapwing.json or *.lapwing.zip. Without --seed the study's own seed is used; without --out the
table is printed. LAPWING_DATA names the data folder (otherwise ./lapwing-data), LAPWING_DATABASE a database on
PostgreSQL (postgres://…; otherwise the database is in the folder), PORT the port in printed links.`;
