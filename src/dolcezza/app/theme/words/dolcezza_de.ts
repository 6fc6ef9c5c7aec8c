<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="de" sourcelanguage="en">
<context>
    <name></name>
    <message>
        <source>Signs, never a diagnosis: each has other causes too. A little tired is normal, pain is not: stop, and ask a doctor or physiotherapist who knows musicians.</source>
        <translation>Zeichen, nie eine Diagnose: Jedes hat auch andere Ursachen. Etwas müde ist normal, Schmerz nicht: aufhören und in einer Praxis fragen, die Musiker kennt (Arzt oder Physiotherapie).</translation>
    </message>
    <message>
        <source>The elbow rises evenly.</source>
        <translation>Der Ellbogen steigt gleichmäßig.</translation>
    </message>
    <message>
        <source>The elbow hardly rises.</source>
        <translation>Der Ellbogen steigt kaum.</translation>
    </message>
    <message>
        <source>The steps are unlike.</source>
        <translation>Die Stufen sind ungleich.</translation>
    </message>
    <message>
        <source>The steps go the other way.</source>
        <translation>Die Stufen gehen andersherum.</translation>
    </message>
    <message>
        <source>Fewer than two strings were played.</source>
        <translation>Es wurden weniger als zwei Saiten gespielt.</translation>
    </message>
    <message>
        <source>not tried</source>
        <translation>nicht versucht</translation>
    </message>
    <message>
        <source>yes</source>
        <translation>ja</translation>
    </message>
    <message>
        <source>no</source>
        <translation>nein</translation>
    </message>
    <message>
        <source>Drag a joint of the bow arm to put it right</source>
        <translation>Ein Gelenk des Bogenarms an seinen Ort ziehen</translation>
    </message>
    <message>
        <source>Levels</source>
        <translation>Höhen</translation>
    </message>
    <message>
        <source>Draw the elbow&apos;s level and the bow&apos;s direction through the elbow</source>
        <translation>Die Ellbogenhöhe und die Richtung des Bogens durch den Ellbogen zeichnen</translation>
    </message>
    <message>
        <source>Reset joints</source>
        <translation>Gelenke zurücksetzen</translation>
    </message>
    <message>
        <source>Remove what was set by hand in this frame</source>
        <translation>Vergessen, was in diesem Bild von Hand gesetzt wurde</translation>
    </message>
    <message>
        <source>Relaxed here</source>
        <translation>Hier gelöst</translation>
    </message>
    <message>
        <source>In this frame the player is relaxed: the shoulder is compared with it</source>
        <translation>In diesem Bild steht der Spieler gelöst: Die Schulter wird damit verglichen</translation>
    </message>
    <message>
        <source>Analyse again</source>
        <translation>Neu auswerten</translation>
    </message>
    <message>
        <source>Ctrl+M</source>
        <translation>Strg+M</translation>
    </message>
    <message>
        <source>Elbow height by string</source>
        <translation>Ellbogenhöhe je Saite</translation>
    </message>
    <message>
        <source>Who moves the bow</source>
        <translation>Wer den Bogen bewegt</translation>
    </message>
    <message>
        <source>by third</source>
        <translation>nach Dritteln</translation>
    </message>
    <message>
        <source>by speed</source>
        <translation>nach Tempo</translation>
    </message>
    <message>
        <source>Signs of tension</source>
        <translation>Anzeichen von Spannung</translation>
    </message>
    <message>
        <source>Posture</source>
        <translation>Haltung</translation>
    </message>
    <message>
        <source>ready for playing</source>
        <translation>spielbereit</translation>
    </message>
    <message>
        <source>held upright: the little finger carries nothing yet</source>
        <translation>aufrecht gehalten: der kleine Finger trägt noch nichts</translation>
    </message>
    <message>
        <source>held upside down first: the little finger carries nothing</source>
        <translation>zuerst kopfüber gehalten: der kleine Finger trägt nichts</translation>
    </message>
    <message>
        <source>Method</source>
        <translation>Methode</translation>
    </message>
    <message>
        <source>Profile…</source>
        <translation>Profil…</translation>
    </message>
    <message>
        <source>What is asked of thumb, fingers, wrist, arm and bow</source>
        <translation>Was von Daumen, Fingern, Handgelenk, Arm und Bogen verlangt wird</translation>
    </message>
    <message>
        <source>Marks on this student&apos;s bow, cm from the frog</source>
        <translation>Marken auf dem Bogen dieses Schülers, cm vom Frosch</translation>
    </message>
    <message>
        <source>Bow</source>
        <translation>Bogen</translation>
    </message>
    <message>
        <source>Another bow…</source>
        <translation>Anderer Bogen…</translation>
    </message>
    <message>
        <source>not marked</source>
        <translation>nicht markiert</translation>
    </message>
    <message>
        <source>{0}, cm from the frog</source>
        <translation>{0}, cm vom Frosch</translation>
    </message>
    <message>
        <source>Stage</source>
        <translation>Stufe</translation>
    </message>
    <message>
        <source>Next stage</source>
        <translation>Nächste Stufe</translation>
    </message>
    <message>
        <source>Set and keep</source>
        <translation>Aufsetzen und halten</translation>
    </message>
    <message>
        <source>Ladder to the frog</source>
        <translation>Leiter zum Frosch</translation>
    </message>
    <message>
        <source>Checks at the end</source>
        <translation>Proben am Ende</translation>
    </message>
    <message>
        <source>What no camera can tell. Gently; at any pain stop.</source>
        <translation>Was keine Kamera sieht. Behutsam; bei Schmerz aufhören.</translation>
    </message>
    <message>
        <source>{0} of {1} steps; {2}.</source>
        <translation>{0} von {1} Schritten; {2}.</translation>
    </message>
    <message>
        <source>Since {0}.</source>
        <translation>Seit {0}.</translation>
    </message>
    <message>
        <source>Open now: {0}</source>
        <translation>Jetzt offen: {0}</translation>
    </message>
    <message>
        <source>Next stage: {0}</source>
        <translation>Nächste Stufe: {0}</translation>
    </message>
    <message>
        <source>Opens {0}</source>
        <translation>Öffnet {0}</translation>
    </message>
    <message>
        <source>the student&apos;s bow</source>
        <translation>der Bogen des Schülers</translation>
    </message>
    <message>
        <source>{0} {1} A relaxed hand: {2}.</source>
        <translation>{0} {1} Eine gelöste Hand: {2}.</translation>
    </message>
    <message>
        <source>Asked for: {0}. {1}</source>
        <translation>Verlangt: {0}. {1}</translation>
    </message>
    <message>
        <source>Analyse the video first.</source>
        <translation>Zuerst die Aufnahme auswerten.</translation>
    </message>
    <message>
        <source>The arm was not seen in this video: see the notes on the page Strokes.</source>
        <translation>Der Arm war in dieser Aufnahme nicht zu sehen: siehe die Hinweise bei den Strichen.</translation>
    </message>
    <message>
        <source>Elbow height by string: {0}</source>
        <translation>Ellbogenhöhe je Saite: {0}</translation>
    </message>
    <message>
        <source>Steps up: {0}.</source>
        <translation>Stufen hinauf: {0}.</translation>
    </message>
    <message>
        <source>Signs of tension: {0}</source>
        <translation>Anzeichen von Spannung: {0}</translation>
    </message>
    <message>
        <source>Click: to a stroke that shows it</source>
        <translation>Klick: zu einem Strich, der es zeigt</translation>
    </message>
    <message>
        <source>Cannot be told from this video: {0}. Use pictures of the hand.</source>
        <translation>Aus dieser Aufnahme nicht zu sagen: {0}. Einzelbilder der Hand nehmen.</translation>
    </message>
    <message>
        <source>begins at {0}</source>
        <translation>beginnt bei {0}</translation>
    </message>
    <message>
        <source>own quiet strokes {0:.2f}</source>
        <translation>eigene ruhige Striche {0:.2f}</translation>
    </message>
    <message>
        <source>on {0} of {1} strokes</source>
        <translation>bei {0} von {1} Strichen</translation>
    </message>
    <message>
        <source>Last said on {0:%d %B %Y}.</source>
        <translation>Zuletzt gesagt am {0:%d %B %Y}.</translation>
    </message>
    <message>
        <source>Set by hand here: {0}.</source>
        <translation>Hier von Hand gesetzt: {0}.</translation>
    </message>
    <message>
        <source>Drag a joint to put it right.</source>
        <translation>Ein Gelenk ziehen, um es zu berichtigen.</translation>
    </message>
    <message>
        <source>Relaxed reference at {0:.1f} s.</source>
        <translation>Gelöst bei {0:.1f} s.</translation>
    </message>
    <message>
        <source>Beats as numbers. p f: how loud. ( ): one bow. r1: a rest. ^: retake. @0.5: half the bow.</source>
        <translation>Schläge als Zahlen. p f: wie laut. ( ): ein Bogen. r1: eine Pause. ^: neu angesetzt. @0.5: halber Bogen.</translation>
    </message>
    <message>
        <source>Strings, then how many, which part of the bow, x beats. Parts: whole lower upper middle frog tip, or 0.2-0.6.</source>
        <translation>Saiten, dann wie viele, welcher Teil des Bogens, x Schläge. Teile: whole lower upper middle frog tip, oder 0.2-0.6.</translation>
    </message>
    <message>
        <source>Mix by chance</source>
        <translation>Zufällig mischen</translation>
    </message>
    <message>
        <source>Every part after every other</source>
        <translation>Jeder Teil nach jedem anderen</translation>
    </message>
    <message>
        <source>Every string after every other</source>
        <translation>Jede Saite nach jeder anderen</translation>
    </message>
    <message>
        <source>Click a bow, or use the arrow keys: its places and speed are shown here.</source>
        <translation>Auf einen Strich klicken oder die Pfeiltasten nehmen: Stellen und Tempo stehen dann hier.</translation>
    </message>
    <message>
        <source>Divide a rhythm</source>
        <translation>Rhythmus einteilen</translation>
    </message>
    <message>
        <source>Write an exercise</source>
        <translation>Übung schreiben</translation>
    </message>
    <message>
        <source>Begin with</source>
        <translation>Beginnen mit</translation>
    </message>
    <message>
        <source>Made up for you</source>
        <translation>Für Sie zusammengestellt</translation>
    </message>
    <message>
        <source>Text of the rhythm or exercise</source>
        <translation>Text des Rhythmus oder der Übung</translation>
    </message>
    <message>
        <source>Make it an exercise</source>
        <translation>Als Übung nehmen</translation>
    </message>
    <message>
        <source>Save</source>
        <translation>Sichern</translation>
    </message>
    <message>
        <source>Check the phone</source>
        <translation>Das Telefon prüfen</translation>
    </message>
    <message>
        <source>1  The card</source>
        <translation>1  Die Karte</translation>
    </message>
    <message>
        <source>The card: lines at three angles, near the bridge and far from it</source>
        <translation>Die Karte: Linien in drei Winkeln, nahe am Steg und weit weg</translation>
    </message>
    <message>
        <source>The card as PDF…</source>
        <translation>Die Karte als PDF…</translation>
    </message>
    <message>
        <source>Its printed ruler measures</source>
        <translation>Ihr gedrucktes Lineal misst</translation>
    </message>
    <message>
        <source> mm</source>
        <translation> mm</translation>
    </message>
    <message>
        <source>Length of the printed ruler</source>
        <translation>Länge des gedruckten Lineals</translation>
    </message>
    <message>
        <source>2  Lay the bow on the lines, and film it</source>
        <translation>2  Den Bogen an die Linien legen und filmen</translation>
    </message>
    <message>
        <source>Slide the card under the strings, its edge against the bridge. On a middle string lay the bow along 0°, +10° and −10° near the bridge, then along the same three far from it: a full second each, lifted between them. Film it from where the phone always stands, open the video here and analyse it like any lesson.</source>
        <translation>Die Karte unter die Saiten schieben, ihre Kante an den Steg. Auf einer mittleren Saite den Bogen an 0°, +10° und −10° nahe am Steg legen, dann an dieselben drei weit weg: je eine volle Sekunde, dazwischen abheben. Filmen, von wo das Telefon immer steht, das Video hier öffnen und auswerten wie jeden Unterricht.</translation>
    </message>
    <message>
        <source>3  What came out</source>
        <translation>3  Was herauskam</translation>
    </message>
    <message>
        <source>which phone, and where it stands: “my phone, music stand by the window”</source>
        <translation>welches Telefon, und wo es steht: „mein Telefon, Notenständer am Fenster“</translation>
    </message>
    <message>
        <source>The phone and its place</source>
        <translation>Das Telefon und sein Platz</translation>
    </message>
    <message>
        <source>Check it with the open video</source>
        <translation>Mit dem offenen Video prüfen</translation>
    </message>
    <message>
        <source>Line</source>
        <translation>Linie</translation>
    </message>
    <message>
        <source>Measured</source>
        <translation>Gemessen</translation>
    </message>
    <message>
        <source>Angle off</source>
        <translation>Winkel daneben</translation>
    </message>
    <message>
        <source>Contact point off</source>
        <translation>Kontaktstelle daneben</translation>
    </message>
    <message>
        <source>The holds</source>
        <translation>Die Lagen</translation>
    </message>
    <message>
        <source>Keep this check</source>
        <translation>Diese Prüfung behalten</translation>
    </message>
    <message>
        <source>The figures as a file…</source>
        <translation>Die Zahlen als Datei…</translation>
    </message>
    <message>
        <source>Checks that are kept</source>
        <translation>Prüfungen, die behalten sind</translation>
    </message>
    <message>
        <source>Check card</source>
        <translation>Prüfkarte</translation>
    </message>
    <message>
        <source>The card as PDF</source>
        <translation>Die Karte als PDF</translation>
    </message>
    <message>
        <source>The figures as a file</source>
        <translation>Die Zahlen als Datei</translation>
    </message>
    <message>
        <source>No analysed video is open. Open the video of the bow on the card, analyse it, and come back.</source>
        <translation>Kein ausgewertetes Video ist offen. Das Video vom Bogen auf der Karte öffnen, auswerten und wiederkommen.</translation>
    </message>
    <message>
        <source>None yet.</source>
        <translation>Noch keine.</translation>
    </message>
    <message>
        <source> (not along the line)</source>
        <translation> (nicht an der Linie)</translation>
    </message>
    <message>
        <source>{0}, {1}, {2}: within {3}° and {4} mm</source>
        <translation>{0}, {1}, {2}: auf {3}° und {4} mm</translation>
    </message>
    <message>
        <source>No longer use it here</source>
        <translation>Hier nicht mehr anwenden</translation>
    </message>
    <message>
        <source>Use it for this video</source>
        <translation>Für dieses Video anwenden</translation>
    </message>
    <message>
        <source>Remove</source>
        <translation>Entfernen</translation>
    </message>
    <message>
        <source>Remove the check {0}</source>
        <translation>Die Prüfung {0} entfernen</translation>
    </message>
    <message>
        <source>It counts when the video is analysed again.</source>
        <translation>Sie gilt, wenn das Video neu ausgewertet wird.</translation>
    </message>
    <message>
        <source>It no longer counts here.</source>
        <translation>Sie gilt hier nicht mehr.</translation>
    </message>
    <message>
        <source>Assign to this video</source>
        <translation>Für diese Aufnahme aufgeben</translation>
    </message>
    <message>
        <source>Open an analysed video first</source>
        <translation>Zuerst eine ausgewertete Aufnahme öffnen</translation>
    </message>
    <message>
        <source>No warnings.</source>
        <translation>Keine Warnungen.</translation>
    </message>
    <message>
        <source>stays in the bow</source>
        <translation>bleibt im Bogen</translation>
    </message>
    <message>
        <source>leaves the bow</source>
        <translation>verlässt den Bogen</translation>
    </message>
    <message>
        <source>{0} to {1}</source>
        <translation>{0} bis {1}</translation>
    </message>
    <message>
        <source>{0} strokes in {1:.0f} min {2:.0f} s.</source>
        <translation>{0} Striche in {1:.0f} min {2:.0f} s.</translation>
    </message>
    <message>
        <source>On each string: </source>
        <translation>Auf jeder Saite: </translation>
    </message>
    <message>
        <source>Recognise it</source>
        <translation>Herausfinden, was gespielt wurde</translation>
    </message>
    <message>
        <source>Nothing was asked</source>
        <translation>Nichts war aufgegeben</translation>
    </message>
    <message>
        <source>all strings</source>
        <translation>alle Saiten</translation>
    </message>
    <message>
        <source>What was to be played</source>
        <translation>Was gespielt werden sollte</translation>
    </message>
    <message>
        <source>Edit…</source>
        <translation>Bearbeiten…</translation>
    </message>
    <message>
        <source>Write or change exercises (Ctrl+8)</source>
        <translation>Übungen schreiben oder ändern (Strg+8)</translation>
    </message>
    <message>
        <source>Against the assignment</source>
        <translation>Gegen die Aufgabe</translation>
    </message>
    <message>
        <source>Strokes that are counted</source>
        <translation>Striche, die zählen</translation>
    </message>
    <message>
        <source>Bow distribution</source>
        <translation>Einteilung</translation>
    </message>
    <message>
        <source>Weight against speed</source>
        <translation>Gewicht gegen Tempo</translation>
    </message>
    <message>
        <source>Click: to its frame; again: to the next one</source>
        <translation>Klick: zum Bild; nochmals: zum nächsten</translation>
    </message>
    <message>
        <source>{0}: {1} of the asked</source>
        <translation>{0}: {1} der aufgegebenen</translation>
    </message>
    <message>
        <source>strokes {0}</source>
        <translation>Striche {0}</translation>
    </message>
    <message>
        <source>Stroke {0}, on {1}: {2}</source>
        <translation>Strich {0}, auf {1}: {2}</translation>
    </message>
    <message>
        <source>The strokes keep away from the frog.</source>
        <translation>Die Striche meiden den Frosch.</translation>
    </message>
    <message>
        <source>The frog is reached.</source>
        <translation>Der Frosch wird erreicht.</translation>
    </message>
    <message>
        <source>No stroke was to go to the frog.</source>
        <translation>Kein Strich sollte zum Frosch gehen.</translation>
    </message>
    <message>
        <source>% a stroke</source>
        <translation>% je Strich</translation>
    </message>
    <message>
        <source>and {0} more</source>
        <translation>und {0} weitere</translation>
    </message>
    <message>
        <source>for an adult</source>
        <translation>für Erwachsene</translation>
    </message>
    <message>
        <source>for a child</source>
        <translation>für ein Kind</translation>
    </message>
    <message>
        <source>for a parent</source>
        <translation>für die Eltern</translation>
    </message>
    <message>
        <source>Sheet for</source>
        <translation>Blatt für</translation>
    </message>
    <message>
        <source>Student&apos;s sheet…</source>
        <translation>Schülerblatt…</translation>
    </message>
    <message>
        <source>One page: one thing, a picture, the drill, boxes to tick (PDF or HTML)</source>
        <translation>Eine Seite: eine Sache, ein Bild, die Übung, Kästchen zum Abhaken (PDF oder HTML)</translation>
    </message>
    <message>
        <source>Report…</source>
        <translation>Bericht…</translation>
    </message>
    <message>
        <source>Everything about this video on paper (PDF or HTML)</source>
        <translation>Alles zu dieser Aufnahme auf Papier (PDF oder HTML)</translation>
    </message>
    <message>
        <source>Annotations…</source>
        <translation>Anmerkungen…</translation>
    </message>
    <message>
        <source>Strokes and findings as subtitles (WebVTT)</source>
        <translation>Striche und Befunde als Untertitel (WebVTT)</translation>
    </message>
    <message>
        <source>Video…</source>
        <translation>Video…</translation>
    </message>
    <message>
        <source>The video or a stroke for the student&apos;s phone: measured lines drawn in, faces hidden (MP4)</source>
        <translation>Das Video oder ein Strich für das Telefon des Schülers: gemessene Linien eingezeichnet, Gesichter verdeckt (MP4)</translation>
    </message>
    <message>
        <source>Remark here…</source>
        <translation>Bemerkung hier…</translation>
    </message>
    <message>
        <source>Add a finding of your own, tied to the moment shown</source>
        <translation>Einen eigenen Befund zum gezeigten Moment hinzufügen</translation>
    </message>
    <message>
        <source>Analyse the video first: then the one thing to change stands here.</source>
        <translation>Zuerst die Aufnahme auswerten: Dann steht hier das Eine, das zu ändern ist.</translation>
    </message>
    <message>
        <source>Nothing to correct</source>
        <translation>Nichts zu berichtigen</translation>
    </message>
    <message>
        <source>No finding is sure and accepted. Accept one below, or add a remark of your own.</source>
        <translation>Kein Befund ist sicher und angenommen. Unten einen annehmen oder eine eigene Bemerkung hinzufügen.</translation>
    </message>
    <message>
        <source>Findings, in the order of work</source>
        <translation>Befunde in der Reihenfolge der Arbeit</translation>
    </message>
    <message>
        <source>from pictures of the hand and your answers (page Hold)</source>
        <translation>aus Bildern der Hand und Ihren Antworten (Seite Haltung)</translation>
    </message>
    <message>
        <source>First: </source>
        <translation>Zuerst: </translation>
    </message>
    <message>
        <source>Then: </source>
        <translation>Dann: </translation>
    </message>
    <message>
        <source>accepted by you</source>
        <translation>von Ihnen angenommen</translation>
    </message>
    <message>
        <source>proposed; accept its finding below</source>
        <translation>vorgeschlagen; den Befund unten annehmen</translation>
    </message>
    <message>
        <source>{0} ({1}): {2}. Go on when: {3} Stop: {4}</source>
        <translation>{0} ({1}): {2}. Weiter, wenn: {3} Aufhören: {4}</translation>
    </message>
    <message>
        <source>Make a practice plan</source>
        <translation>Übeplan machen</translation>
    </message>
    <message>
        <source>Lesson view</source>
        <translation>Unterrichtsansicht</translation>
    </message>
    <message>
        <source>One thing, readable from two metres (L)</source>
        <translation>Eine Sache, aus zwei Metern lesbar (L)</translation>
    </message>
    <message>
        <source>Drills: </source>
        <translation>Übungen: </translation>
    </message>
    <message>
        <source>You: {0}</source>
        <translation>Sie: {0}</translation>
    </message>
    <message>
        <source>Click: to its frames, one after the other</source>
        <translation>Klick: zu den Bildern, eins nach dem anderen</translation>
    </message>
    <message>
        <source>Reopen</source>
        <translation>Wieder öffnen</translation>
    </message>
    <message>
        <source>Accept</source>
        <translation>Annehmen</translation>
    </message>
    <message>
        <source>Dismiss</source>
        <translation>Verwerfen</translation>
    </message>
    <message>
        <source>Reword…</source>
        <translation>Umformulieren…</translation>
    </message>
    <message>
        <source>Not for this student</source>
        <translation>Bei diesem Schüler nicht</translation>
    </message>
    <message>
        <source>Dismiss it now and whenever it comes again under this profile; Ctrl+Z takes it back</source>
        <translation>Jetzt und künftig unter diesem Profil verwerfen; Strg+Z nimmt es zurück</translation>
    </message>
    <message>
        <source>your remark at {0:.1f} s</source>
        <translation>Ihre Bemerkung bei {0:.1f} s</translation>
    </message>
    <message>
        <source>Bow hold</source>
        <translation>Bogenhaltung</translation>
    </message>
    <message>
        <source>Upright</source>
        <translation>Aufrecht</translation>
    </message>
    <message>
        <source>At the frog</source>
        <translation>Am Frosch</translation>
    </message>
    <message>
        <source>At the tip</source>
        <translation>An der Spitze</translation>
    </message>
    <message>
        <source>Relaxed hand</source>
        <translation>Lockere Hand</translation>
    </message>
    <message>
        <source>bent</source>
        <translation>gebeugt</translation>
    </message>
    <message>
        <source>stable</source>
        <translation>gleich</translation>
    </message>
    <message>
        <source>as measured</source>
        <translation>wie gemessen</translation>
    </message>
    <message>
        <source>straight</source>
        <translation>gerade</translation>
    </message>
    <message>
        <source>round</source>
        <translation>rund</translation>
    </message>
    <message>
        <source>unclear</source>
        <translation>unklar</translation>
    </message>
    <message>
        <source>Thumb</source>
        <translation>Daumen</translation>
    </message>
    <message>
        <source>Little finger</source>
        <translation>Kleiner Finger</translation>
    </message>
    <message>
        <source>cannot be told from here</source>
        <translation>von hier nicht zu sagen</translation>
    </message>
    <message>
        <source>Open a picture of the bow hand: alone, as large as the picture, from the back of the hand. A photo of the hanging hand is its own baseline.</source>
        <translation>Ein Bild der Bogenhand öffnen: allein, so groß wie das Bild, vom Handrücken her. Ein Foto der hängenden Hand ist ihr eigener Maßstab.</translation>
    </message>
    <message>
        <source>Mark the stick</source>
        <translation>Stange markieren</translation>
    </message>
    <message>
        <source>Mark the forearm</source>
        <translation>Unterarm markieren</translation>
    </message>
    <message>
        <source>Signs, never a diagnosis. At any pain stop.</source>
        <translation>Zeichen, nie eine Diagnose. Bei Schmerz aufhören.</translation>
    </message>
    <message>
        <source>Open a picture at the frog and one at the tip, or one of the relaxed hand, to set them side by side.</source>
        <translation>Ein Bild am Frosch und eines an der Spitze öffnen, oder eines der lockeren Hand, um sie nebeneinander zu stellen.</translation>
    </message>
    <message>
        <source>Drag a point of the hand to its place; drag along the stick to mark it</source>
        <translation>Einen Punkt der Hand an seinen Ort ziehen; entlang der Stange ziehen, um sie zu markieren</translation>
    </message>
    <message>
        <source>Open a picture</source>
        <translation>Bild öffnen</translation>
    </message>
    <message>
        <source>From this video</source>
        <translation>Aus diesem Video</translation>
    </message>
    <message>
        <source>The sharpest frames with the hand at the frog and at the head, out of the open video</source>
        <translation>Die schärfsten Bilder mit der Hand am Frosch und an der Spitze aus dem offenen Video</translation>
    </message>
    <message>
        <source>Then drag along it in the picture</source>
        <translation>Dann im Bild daran entlangziehen</translation>
    </message>
    <message>
        <source>Remove what was measured in this picture; the file stays where it is</source>
        <translation>Vergessen, was zu diesem Bild gesagt wurde; die Datei bleibt, wo sie ist</translation>
    </message>
    <message>
        <source>Set the points</source>
        <translation>Punkte setzen</translation>
    </message>
    <message>
        <source>Lay a hand over the picture, then drag its points to their places</source>
        <translation>Eine Hand über das Bild legen und ihre Punkte an ihren Ort ziehen</translation>
    </message>
    <message>
        <source>{0}: what you see</source>
        <translation>{0}: was Sie sehen</translation>
    </message>
    <message>
        <source>What changed</source>
        <translation>Was sich geändert hat</translation>
    </message>
    <message>
        <source>Signs of tension in the hand</source>
        <translation>Anzeichen von Spannung in der Hand</translation>
    </message>
    <message>
        <source>no hand found</source>
        <translation>keine Hand gefunden</translation>
    </message>
    <message>
        <source>thumb {0}, little finger {1}</source>
        <translation>Daumen {0}, kleiner Finger {1}</translation>
    </message>
    <message>
        <source>cannot be told</source>
        <translation>nicht zu sagen</translation>
    </message>
    <message>
        <source>No picture of the hand yet</source>
        <translation>Noch kein Bild der Hand</translation>
    </message>
    <message>
        <source>The picture {0} is no longer where it was; its figures are kept.</source>
        <translation>Das Bild {0} ist nicht mehr an seinem Ort; seine Zahlen bleiben.</translation>
    </message>
    <message>
        <source>1 point set by hand.</source>
        <translation>1 Punkt von Hand gesetzt.</translation>
    </message>
    <message>
        <source>{0} points set by hand.</source>
        <translation>{0} Punkte von Hand gesetzt.</translation>
    </message>
    <message>
        <source>Gap {0}</source>
        <translation>Lücke {0}</translation>
    </message>
    <message>
        <source>Ring of thumb and middle finger</source>
        <translation>Ring aus Daumen und Mittelfinger</translation>
    </message>
    <message>
        <source>Fingers to the stick</source>
        <translation>Finger zur Stange</translation>
    </message>
    <message>
        <source>drag along the stick to mark it</source>
        <translation>entlang der Stange ziehen, um sie zu markieren</translation>
    </message>
    <message>
        <source>Index crosses the stick</source>
        <translation>Zeigefinger kreuzt die Stange</translation>
    </message>
    <message>
        <source>cannot be told: the forearm as marked does not come to this wrist</source>
        <translation>nicht zu sagen: der markierte Unterarm führt nicht zu diesem Handgelenk</translation>
    </message>
    <message>
        <source>Wrist</source>
        <translation>Handgelenk</translation>
    </message>
    <message>
        <source>mark the stick and the forearm</source>
        <translation>Stange und Unterarm markieren</translation>
    </message>
    <message>
        <source>higher than the knuckles by {0:.0f} % of the hand</source>
        <translation>um {0:.0f} % der Hand höher als die Knöchel</translation>
    </message>
    <message>
        <source>lower than the knuckles by {0:.0f} % of the hand</source>
        <translation>um {0:.0f} % der Hand tiefer als die Knöchel</translation>
    </message>
    <message>
        <source>your answer</source>
        <translation>Ihre Antwort</translation>
    </message>
    <message>
        <source>{0} asks for {1}</source>
        <translation>{0} verlangt {1}</translation>
    </message>
    <message>
        <source>Since {0}:</source>
        <translation>Seit {0}:</translation>
    </message>
    <message>
        <source>even</source>
        <translation>gleichmäßig</translation>
    </message>
    <message>
        <source>flat</source>
        <translation>flach</translation>
    </message>
    <message>
        <source>broken</source>
        <translation>gebrochen</translation>
    </message>
    <message>
        <source>reversed</source>
        <translation>umgekehrt</translation>
    </message>
    <message>
        <source>cannot tell</source>
        <translation>nicht zu sagen</translation>
    </message>
    <message>
        <source>few</source>
        <translation>wenige</translation>
    </message>
    <message>
        <source>some</source>
        <translation>einige</translation>
    </message>
    <message>
        <source>many</source>
        <translation>viele</translation>
    </message>
    <message>
        <source>tip</source>
        <translation>Spitze</translation>
    </message>
    <message>
        <source>shoulder</source>
        <translation>Schulter</translation>
    </message>
    <message>
        <source>elbow</source>
        <translation>Ellbogen</translation>
    </message>
    <message>
        <source>wrist</source>
        <translation>Handgelenk</translation>
    </message>
    <message>
        <source>slow</source>
        <translation>langsam</translation>
    </message>
    <message>
        <source>medium</source>
        <translation>mittel</translation>
    </message>
    <message>
        <source>fast</source>
        <translation>schnell</translation>
    </message>
    <message>
        <source>shaking bow</source>
        <translation>zitternder Bogen</translation>
    </message>
    <message>
        <source>bouncing stick</source>
        <translation>springende Stange</translation>
    </message>
    <message>
        <source>jerky speed (arc length)</source>
        <translation>ruckartiges Tempo (Bogenlänge)</translation>
    </message>
    <message>
        <source>jerky speed (jerk)</source>
        <translation>ruckartiges Tempo (Ruck)</translation>
    </message>
    <message>
        <source>wrist that does not move</source>
        <translation>Handgelenk bewegt sich nicht</translation>
    </message>
    <message>
        <source>frozen elbow</source>
        <translation>starrer Ellbogen</translation>
    </message>
    <message>
        <source>raised shoulder</source>
        <translation>gehobene Schulter</translation>
    </message>
    <message>
        <source>straight thumb</source>
        <translation>gerader Daumen</translation>
    </message>
    <message>
        <source>locked little finger</source>
        <translation>steifer kleiner Finger</translation>
    </message>
    <message>
        <source>same hand at frog and head</source>
        <translation>gleiche Hand an Frosch und Spitze</translation>
    </message>
    <message>
        <source>fingers squeezed or stretched</source>
        <translation>Finger gepresst oder gespreizt</translation>
    </message>
    <message>
        <source>Reach at the frog</source>
        <translation>Reichweite am Frosch</translation>
    </message>
    <message>
        <source>Reach at the tip</source>
        <translation>Reichweite an der Spitze</translation>
    </message>
    <message>
        <source>Bow used in a stroke</source>
        <translation>Bogen je Strich</translation>
    </message>
    <message>
        <source>Bow speed</source>
        <translation>Bogentempo</translation>
    </message>
    <message>
        <source>Evenness of speed</source>
        <translation>Gleichmaß des Tempos</translation>
    </message>
    <message>
        <source>Down against up</source>
        <translation>Ab gegen Auf</translation>
    </message>
    <message>
        <source>Drift</source>
        <translation>Wandern</translation>
    </message>
    <message>
        <source>Start off the plan</source>
        <translation>Beginn neben dem Plan</translation>
    </message>
    <message>
        <source>Speed against plan</source>
        <translation>Tempo gegen Plan</translation>
    </message>
    <message>
        <source>Bow against plan</source>
        <translation>Bogen gegen Plan</translation>
    </message>
    <message>
        <source>Bow used in a beat</source>
        <translation>Bogen je Schlag</translation>
    </message>
    <message>
        <source>Whole bows</source>
        <translation>Ganze Bögen</translation>
    </message>
    <message>
        <source>Half bows</source>
        <translation>Halbe Bögen</translation>
    </message>
    <message>
        <source>Each note three times</source>
        <translation>Jede Note dreimal</translation>
    </message>
    <message>
        <source>Two notes to a bow</source>
        <translation>Zwei Noten auf einen Bogen</translation>
    </message>
    <message>
        <source>Three notes to a bow</source>
        <translation>Drei Noten auf einen Bogen</translation>
    </message>
    <message>
        <source>Four notes to a bow</source>
        <translation>Vier Noten auf einen Bogen</translation>
    </message>
    <message>
        <source>Two tied, two separate</source>
        <translation>Zwei gebunden, zwei getrennt</translation>
    </message>
    <message>
        <source>Eight notes to a bow</source>
        <translation>Acht Noten auf einen Bogen</translation>
    </message>
    <message>
        <source>B flat</source>
        <translation>B</translation>
    </message>
    <message>
        <source>E flat</source>
        <translation>Es</translation>
    </message>
    <message>
        <source>A flat</source>
        <translation>As</translation>
    </message>
    <message>
        <source>One speed</source>
        <translation>Gleiche Geschwindigkeit</translation>
    </message>
    <message>
        <source>Faster return</source>
        <translation>Schnellerer Rückweg</translation>
    </message>
    <message>
        <source>Less bow</source>
        <translation>Weniger Bogen</translation>
    </message>
    <message>
        <source>Short note hooked on</source>
        <translation>Angehängte kurze Note</translation>
    </message>
    <message>
        <source>Taken again</source>
        <translation>Neu angesetzt</translation>
    </message>
    <message>
        <source>Equal notes</source>
        <translation>Gleiche Noten</translation>
    </message>
    <message>
        <source>Dotted pairs</source>
        <translation>Punktierte Paare</translation>
    </message>
    <message>
        <source>Three slurred and one</source>
        <translation>Drei gebunden und eine</translation>
    </message>
    <message>
        <source>Two slurred and two separate</source>
        <translation>Zwei gebunden und zwei getrennt</translation>
    </message>
    <message>
        <source>Loud and soft</source>
        <translation>Laut und leise</translation>
    </message>
    <message>
        <source>0 = the very frog; the strokes&apos; own nearest ends</source>
        <translation>0 = ganz am Frosch; die nächsten Enden der Striche</translation>
    </message>
    <message>
        <source>1 = the very head; the strokes&apos; own farthest ends</source>
        <translation>1 = ganz an der Spitze; die fernsten Enden der Striche</translation>
    </message>
    <message>
        <source>share of the hair, mean of the strokes</source>
        <translation>Anteil der Haare, Mittel der Striche</translation>
    </message>
    <message>
        <source>mean of the strokes</source>
        <translation>Mittel der Striche</translation>
    </message>
    <message>
        <source>1 = the same speed all along a stroke</source>
        <translation>1 = im ganzen Strich dieselbe Geschwindigkeit</translation>
    </message>
    <message>
        <source>bow used by down-bows less that of up-bows; not 0 = the bow wanders along</source>
        <translation>Bogen der Abstriche weniger dem der Aufstriche; nicht 0 = der Bogen wandert</translation>
    </message>
    <message>
        <source>how far each stroke starts farther towards the head than the one before in its direction</source>
        <translation>um wie viel jeder Strich weiter zur Spitze beginnt als der vorige in seiner Richtung</translation>
    </message>
    <message>
        <source>how far into the bow strokes begin against where they should, + = the first part is left out</source>
        <translation>wie weit im Bogen Striche beginnen gegen die Stelle, an der sie sollten, + = der erste Teil wird ausgelassen</translation>
    </message>
    <message>
        <source>1 = as fast as length, tempo and part of the bow ask</source>
        <translation>1 = so schnell, wie Länge, Tempo und Teil des Bogens es verlangen</translation>
    </message>
    <message>
        <source>1 = as much bow as was asked</source>
        <translation>1 = so viel Bogen wie gefragt</translation>
    </message>
    <message>
        <source>share of the hair</source>
        <translation>Anteil der Haare</translation>
    </message>
    <message>
        <source>o&apos;clock</source>
        <translation>Uhr</translation>
    </message>
    <message>
        <source>of the shoulder width</source>
        <translation>der Schulterbreite</translation>
    </message>
    <message>
        <source>direction of the instrument, twelve = straight ahead of the player, nine = to the left</source>
        <translation>Richtung des Instruments, zwölf = gerade vor der spielenden Person, neun = nach links</translation>
    </message>
    <message>
        <source>neck against the floor, + = the scroll is higher</source>
        <translation>Hals gegen den Boden, + = die Schnecke liegt höher</translation>
    </message>
    <message>
        <source>head against the trunk, + = tilted to the instrument&apos;s side</source>
        <translation>Kopf gegen den Rumpf, + = zur Seite des Instruments geneigt</translation>
    </message>
    <message>
        <source>between where the nose points and the scroll, seen from above</source>
        <translation>zwischen der Richtung der Nase und der Schnecke, von oben gesehen</translation>
    </message>
    <message>
        <source>endpin beside the midline of the body, + = to the bow&apos;s side</source>
        <translation>Stachel neben der Mittellinie des Körpers, + = zur Bogenseite</translation>
    </message>
    <message>
        <source>knees above the hips; below = the seat is higher</source>
        <translation>Knie über den Hüften; darunter = der Sitz ist höher</translation>
    </message>
    <message>
        <source>how far the top faces outwards, 0 = up to the ceiling, 90 = straight ahead</source>
        <translation>wie weit die Decke nach außen zeigt, 0 = zur Zimmerdecke, 90 = geradeaus</translation>
    </message>
    <message>
        <source>A wide lane, so that placing is learned before steering.</source>
        <translation>Eine breite Bahn, damit das Ansetzen vor dem Lenken gelernt wird.</translation>
    </message>
    <message>
        <source>Half-way is the middle of this lane.</source>
        <translation>Die halbe Strecke ist die Mitte dieser Bahn.</translation>
    </message>
    <message>
        <source>The lane is a choice of its own: it comes with no hold and no arm. Half-way is the middle of this one.</source>
        <translation>Die Bahn ist eine eigene Wahl: sie gehört zu keiner Haltung und keinem Arm. Die halbe Strecke ist die Mitte dieser Bahn.</translation>
    </message>
    <message>
        <source>Half-way, then one hair-width nearer the bridge.</source>
        <translation>Halbe Strecke, dann eine Haarbreite näher am Steg.</translation>
    </message>
    <message>
        <source>Tone is a matter of the tune.</source>
        <translation>Der Ton richtet sich nach der Melodie.</translation>
    </message>
    <message>
        <source>Thumb, middle joint</source>
        <translation>Daumen, Mittelgelenk</translation>
    </message>
    <message>
        <source>Index finger, knuckle</source>
        <translation>Zeigefinger, Knöchel</translation>
    </message>
    <message>
        <source>Index finger, middle joint</source>
        <translation>Zeigefinger, Mittelgelenk</translation>
    </message>
    <message>
        <source>Middle finger, knuckle</source>
        <translation>Mittelfinger, Knöchel</translation>
    </message>
    <message>
        <source>Middle finger, middle joint</source>
        <translation>Mittelfinger, Mittelgelenk</translation>
    </message>
    <message>
        <source>Ring finger, knuckle</source>
        <translation>Ringfinger, Knöchel</translation>
    </message>
    <message>
        <source>Ring finger, middle joint</source>
        <translation>Ringfinger, Mittelgelenk</translation>
    </message>
    <message>
        <source>Little finger, knuckle</source>
        <translation>Kleiner Finger, Knöchel</translation>
    </message>
    <message>
        <source>Little finger, middle joint</source>
        <translation>Kleiner Finger, Mittelgelenk</translation>
    </message>
    <message>
        <source>stroke split</source>
        <translation>Strich geteilt</translation>
    </message>
    <message>
        <source>strokes merged</source>
        <translation>Striche verbunden</translation>
    </message>
    <message>
        <source>stroke deleted</source>
        <translation>Strich gelöscht</translation>
    </message>
    <message>
        <source>string set</source>
        <translation>Saite gesagt</translation>
    </message>
    <message>
        <source>joints set</source>
        <translation>Gelenke gesetzt</translation>
    </message>
    <message>
        <source>joints reset</source>
        <translation>Gelenke zurückgesetzt</translation>
    </message>
    <message>
        <source>frog of the bow set</source>
        <translation>Frosch des Bogens gesetzt</translation>
    </message>
    <message>
        <source>head of the bow set</source>
        <translation>Spitze des Bogens gesetzt</translation>
    </message>
    <message>
        <source>frog of the bow left to the program</source>
        <translation>Frosch dem Programm überlassen</translation>
    </message>
    <message>
        <source>head of the bow left to the program</source>
        <translation>Spitze dem Programm überlassen</translation>
    </message>
    <message>
        <source>bow left to the program</source>
        <translation>Bogen dem Programm überlassen</translation>
    </message>
    <message>
        <source>relaxed reference</source>
        <translation>entspannter Bezug</translation>
    </message>
    <message>
        <source>relaxed reference removed</source>
        <translation>entspannter Bezug entfernt</translation>
    </message>
    <message>
        <source>landmarks set</source>
        <translation>Messpunkte gesetzt</translation>
    </message>
    <message>
        <source>landmark set</source>
        <translation>Messpunkt gesetzt</translation>
    </message>
    <message>
        <source>landmark moved</source>
        <translation>Messpunkt verschoben</translation>
    </message>
    <message>
        <source>landmark removed</source>
        <translation>Messpunkt entfernt</translation>
    </message>
    <message>
        <source>landmarks cleared</source>
        <translation>Messpunkte geleert</translation>
    </message>
    <message>
        <source>moment removed</source>
        <translation>Kalibrierbild entfernt</translation>
    </message>
    <message>
        <source>sides swapped</source>
        <translation>Seiten getauscht</translation>
    </message>
    <message>
        <source>zero set</source>
        <translation>Nullpunkt gesetzt</translation>
    </message>
    <message>
        <source>zero removed</source>
        <translation>Nullpunkt entfernt</translation>
    </message>
    <message>
        <source>check chosen</source>
        <translation>Prüfung gewählt</translation>
    </message>
    <message>
        <source>check taken away</source>
        <translation>Prüfung weggenommen</translation>
    </message>
    <message>
        <source>tuning set</source>
        <translation>Stimmung gesagt</translation>
    </message>
    <message>
        <source>tuning left to the sound</source>
        <translation>Stimmung dem Ton überlassen</translation>
    </message>
    <message>
        <source>answer</source>
        <translation>Antwort</translation>
    </message>
    <message>
        <source>assignment</source>
        <translation>Aufgabe</translation>
    </message>
    <message>
        <source>other profile</source>
        <translation>anderes Profil</translation>
    </message>
    <message>
        <source>profile changed</source>
        <translation>Profil geändert</translation>
    </message>
    <message>
        <source>stage</source>
        <translation>Stufe</translation>
    </message>
    <message>
        <source>step</source>
        <translation>Schritt</translation>
    </message>
    <message>
        <source>bow</source>
        <translation>Bogen</translation>
    </message>
    <message>
        <source>consent</source>
        <translation>Vereinbarung</translation>
    </message>
    <message>
        <source>second phone</source>
        <translation>zweites Telefon</translation>
    </message>
    <message>
        <source>other words</source>
        <translation>andere Worte</translation>
    </message>
    <message>
        <source>finding accepted</source>
        <translation>Befund angenommen</translation>
    </message>
    <message>
        <source>finding dismissed</source>
        <translation>Befund verworfen</translation>
    </message>
    <message>
        <source>finding reopened</source>
        <translation>Befund wieder geöffnet</translation>
    </message>
    <message>
        <source>finding dismissed for good</source>
        <translation>Befund für immer verworfen</translation>
    </message>
    <message>
        <source>remark added</source>
        <translation>Anmerkung hinzugefügt</translation>
    </message>
    <message>
        <source>remark removed</source>
        <translation>Anmerkung entfernt</translation>
    </message>
    <message>
        <source>picture kept</source>
        <translation>Bild behalten</translation>
    </message>
    <message>
        <source>picture forgotten</source>
        <translation>Bild entfernt</translation>
    </message>
    <message>
        <source>point set</source>
        <translation>Punkt gesetzt</translation>
    </message>
    <message>
        <source>student changed</source>
        <translation>Schüler geändert</translation>
    </message>
    <message>
        <source>plan made</source>
        <translation>Plan gemacht</translation>
    </message>
    <message>
        <source>practice written down</source>
        <translation>Üben aufgeschrieben</translation>
    </message>
    <message>
        <source>entry removed</source>
        <translation>Eintrag entfernt</translation>
    </message>
    <message>
        <source>relaxed</source>
        <translation>locker</translation>
    </message>
    <message>
        <source>From {0} to {1}</source>
        <translation>Von {0} bis {1}</translation>
    </message>
    <message>
        <source>Too little can be told in both pictures.</source>
        <translation>In beiden Bildern lässt sich zu wenig sagen.</translation>
    </message>
    <message>
        <source>No joint changed by more than its ±.</source>
        <translation>Kein Gelenk hat sich um mehr als sein ± verändert.</translation>
    </message>
    <message>
        <source>{0}: a stable hand is allowed for now.</source>
        <translation>{0}: Eine gleichbleibende Hand ist vorerst erlaubt.</translation>
    </message>
    <message>
        <source>Click to set the next landmark, or Enter, arrows and Enter; arrow keys move the chosen landmark by half a pixel</source>
        <translation>Klick setzt den nächsten Messpunkt, oder Eingabe, Pfeile und Eingabe; Pfeiltasten bewegen den gewählten um ein halbes Pixel</translation>
    </message>
    <message>
        <source>Choose a video first.</source>
        <translation>Zuerst eine Aufnahme wählen.</translation>
    </message>
    <message>
        <source>Swap low and high side</source>
        <translation>Tiefe und hohe Seite tauschen</translation>
    </message>
    <message>
        <source>Bow angle</source>
        <translation>Bogenwinkel</translation>
    </message>
    <message>
        <source>Contact point</source>
        <translation>Kontaktstelle</translation>
    </message>
    <message>
        <source>Bow position</source>
        <translation>Stelle am Bogen</translation>
    </message>
    <message>
        <source>Fit error</source>
        <translation>Passfehler</translation>
    </message>
    <message>
        <source>{0}, plus or minus</source>
        <translation>{0}, plus oder minus</translation>
    </message>
    <message>
        <source>Mark this frame too</source>
        <translation>Auch hier markieren</translation>
    </message>
    <message>
        <source>Another calibration frame helps where the instrument was lost or has turned</source>
        <translation>Ein weiteres Kalibrierbild hilft, wo das Instrument verloren ging oder sich gedreht hat</translation>
    </message>
    <message>
        <source>Set zero here</source>
        <translation>Nullpunkt hier</translation>
    </message>
    <message>
        <source>Landmarks</source>
        <translation>Messpunkte</translation>
    </message>
    <message>
        <source>Remove landmark</source>
        <translation>Löschen</translation>
    </message>
    <message>
        <source>Delete</source>
        <translation>Entf</translation>
    </message>
    <message>
        <source>Zero: here the bow is parallel to the bridge for sure; what is left of its angle is taken off the whole video</source>
        <translation>Nullpunkt: Hier ist der Bogen sicher parallel zum Steg; was an Winkel übrig ist, wird in der ganzen Aufnahme abgezogen</translation>
    </message>
    <message>
        <source>Skip</source>
        <translation>Auslassen</translation>
    </message>
    <message>
        <source>This place cannot be seen: go on to the next</source>
        <translation>Diese Stelle ist nicht zu sehen: weiter zur nächsten</translation>
    </message>
    <message>
        <source>Clear</source>
        <translation>Alle weg</translation>
    </message>
    <message>
        <source>Analyse this video</source>
        <translation>Diese Aufnahme auswerten</translation>
    </message>
    <message>
        <source>Looks right: analyse this video</source>
        <translation>Passt: diese Aufnahme auswerten</translation>
    </message>
    <message>
        <source>Tracked here. Drag a landmark that is off: what depends on it is analysed again at once.</source>
        <translation>Hierher verfolgt. Einen Messpunkt, der falsch sitzt, ziehen: Was von ihm abhängt, wird sofort neu ausgewertet.</translation>
    </message>
    <message>
        <source>The instrument is lost here. Choose “{0}” and set the first four landmarks.</source>
        <translation>Hier ist das Instrument verloren. „{0}“ wählen und die ersten vier Messpunkte setzen.</translation>
    </message>
    <message>
        <source>Calibration frame {0}</source>
        <translation>Kalibrierbild {0}</translation>
    </message>
    <message>
        <source>zero {0}</source>
        <translation>Null {0}</translation>
    </message>
    <message>
        <source>Zero at {0}</source>
        <translation>Null bei {0}</translation>
    </message>
    <message>
        <source>lost {0}</source>
        <translation>verloren {0}</translation>
    </message>
    <message>
        <source>The instrument is lost at {0}</source>
        <translation>Das Instrument ist bei {0} verloren</translation>
    </message>
    <message>
        <source>The landmarks belong to {0}. Click the picture to go back there.</source>
        <translation>Die Messpunkte gehören zu {0}. Ein Klick ins Bild führt dorthin zurück.</translation>
    </message>
    <message>
        <source>Found by itself, but which hand bows is not clear: “{0}” is set on the page Video. Does the outline lie on the instrument? Then Enter; if not, drag what is off.</source>
        <translation>Von selbst gefunden, aber nicht, welche Hand den Bogen führt: auf der Seite Video steht „{0}“. Liegt der Umriss auf dem Instrument? Dann Eingabe; sonst ziehen, was nicht stimmt.</translation>
    </message>
    <message>
        <source>Found by itself. Does the outline lie on the instrument? Then Enter; if not, drag what is off.</source>
        <translation>Von selbst gefunden. Liegt der Umriss auf dem Instrument? Dann Eingabe; sonst ziehen, was nicht stimmt.</translation>
    </message>
    <message>
        <source>All landmarks are set.</source>
        <translation>Alle Messpunkte sind gesetzt.</translation>
    </message>
    <message>
        <source>Looking for the instrument … Click {0} of 4 if you would rather not wait: {1}</source>
        <translation>Das Instrument wird gesucht … Klick {0} von 4, wenn Sie nicht warten wollen: {1}</translation>
    </message>
    <message>
        <source>Click {0} of 4: {1}</source>
        <translation>Klick {0} von 4: {1}</translation>
    </message>
    <message>
        <source>Good. More landmarks make it better: {0}</source>
        <translation>Gut. Mehr Messpunkte machen es besser: {0}</translation>
    </message>
    <message>
        <source>Practice</source>
        <translation>Üben</translation>
    </message>
    <message>
        <source>A plan until the next lesson</source>
        <translation>Ein Plan bis zur nächsten Stunde</translation>
    </message>
    <message>
        <source>also: Scale in D 5, Study 8  (words, then minutes)</source>
        <translation>auch: Tonleiter in D 5, Etüde 8  (Worte, dann Minuten)</translation>
    </message>
    <message>
        <source>Exercises and pieces, each with its minutes, separated by commas</source>
        <translation>Übungen und Stücke, jeweils mit Minuten, durch Kommas getrennt</translation>
    </message>
    <message>
        <source>Minutes a day</source>
        <translation>Minuten am Tag</translation>
    </message>
    <message>
        <source>First day</source>
        <translation>Erster Tag</translation>
    </message>
    <message>
        <source>Next lesson</source>
        <translation>Nächste Stunde</translation>
    </message>
    <message>
        <source>each day</source>
        <translation>jeden Tag</translation>
    </message>
    <message>
        <source>from</source>
        <translation>ab</translation>
    </message>
    <message>
        <source>next lesson</source>
        <translation>nächste Stunde</translation>
    </message>
    <message>
        <source>Make the plan</source>
        <translation>Plan machen</translation>
    </message>
    <message>
        <source>Calendar…</source>
        <translation>Kalender…</translation>
    </message>
    <message>
        <source>The plan as iCalendar, for any calendar</source>
        <translation>Der Plan als iCalendar, für jeden Kalender</translation>
    </message>
    <message>
        <source>Sheet…</source>
        <translation>Blatt…</translation>
    </message>
    <message>
        <source>The plan on paper with boxes to tick; no video is needed</source>
        <translation>Der Plan auf Papier mit Kästchen zum Abhaken; ein Video ist nicht nötig</translation>
    </message>
    <message>
        <source>Write down what was practised</source>
        <translation>Aufschreiben, was geübt wurde</translation>
    </message>
    <message>
        <source>What was practised</source>
        <translation>Was geübt wurde</translation>
    </message>
    <message>
        <source>Minutes practised</source>
        <translation>Geübte Minuten</translation>
    </message>
    <message>
        <source>Count of settings, bows or starts</source>
        <translation>Anzahl der Griffe, Striche oder Anfänge</translation>
    </message>
    <message>
        <source>It hurt (this drill pauses; show the teacher)</source>
        <translation>Es tat weh (diese Übung ruht; der Lehrkraft zeigen)</translation>
    </message>
    <message>
        <source>how it went</source>
        <translation>wie es ging</translation>
    </message>
    <message>
        <source>Day on which it was practised</source>
        <translation>Tag, an dem geübt wurde</translation>
    </message>
    <message>
        <source>A week…</source>
        <translation>Eine Woche…</translation>
    </message>
    <message>
        <source>The ticks of a whole week from paper, at once</source>
        <translation>Die Häkchen einer ganzen Woche vom Papier auf einmal</translation>
    </message>
    <message>
        <source>Note</source>
        <translation>Notiz</translation>
    </message>
    <message>
        <source>A week from paper</source>
        <translation>Eine Woche vom Papier</translation>
    </message>
    <message>
        <source>What was ticked on the sheet?</source>
        <translation>Was wurde auf dem Blatt abgehakt?</translation>
    </message>
    <message>
        <source>No day of the plan is over yet.</source>
        <translation>Noch ist kein Tag des Plans vorbei.</translation>
    </message>
    <message>
        <source>Each tick is written down with the minutes and the count of the plan.</source>
        <translation>Jedes Häkchen wird mit den Minuten und der Anzahl des Plans eingetragen.</translation>
    </message>
    <message>
        <source>Write down</source>
        <translation>Aufschreiben</translation>
    </message>
    <message>
        <source>Count to ten</source>
        <translation>Bis zehn zählen</translation>
    </message>
    <message>
        <source>Set the hand, keep it for ten; each ten is one setting. Press again to stop.</source>
        <translation>Die Hand aufsetzen und bis zehn halten; jede Zehn ist ein Griff. Noch einmal drücken hält an.</translation>
    </message>
    <message>
        <source>Settings so far</source>
        <translation>Griffe bisher</translation>
    </message>
    <message>
        <source>{0} settings: {1} is open.</source>
        <translation>{0} Griffe: {1} ist offen.</translation>
    </message>
    <message>
        <source>{0}; at ten a day {1} opens on {2}.</source>
        <translation>{0}; bei zehn am Tag öffnet sich {1} am {2}.</translation>
    </message>
    <message>
        <source>Start the ladder</source>
        <translation>Leiter beginnen</translation>
    </message>
    <message>
        <source>{0:g} cm</source>
        <translation>{0:g} cm</translation>
    </message>
    <message>
        <source>then rest</source>
        <translation>dann Pause</translation>
    </message>
    <message>
        <source>then {0:g} cm</source>
        <translation>dann {0:g} cm</translation>
    </message>
    <message>
        <source>then the frog</source>
        <translation>dann der Frosch</translation>
    </message>
    <message>
        <source>{0}: {1:.0f} s, {2}</source>
        <translation>{0}: {1:.0f} s, {2}</translation>
    </message>
    <message>
        <source>Practice: {0}</source>
        <translation>Üben: {0}</translation>
    </message>
    <message>
        <source>Choose a student first</source>
        <translation>Zuerst einen Schüler wählen</translation>
    </message>
    <message>
        <source>for what was found</source>
        <translation>für die Befunde</translation>
    </message>
    <message>
        <source>open at this stage</source>
        <translation>auf dieser Stufe offen</translation>
    </message>
    <message>
        <source>all drills</source>
        <translation>alle Übungen</translation>
    </message>
    <message>
        <source>search</source>
        <translation>suchen</translation>
    </message>
    <message>
        <source>Search the drills</source>
        <translation>Übungen durchsuchen</translation>
    </message>
    <message>
        <source>Which drills</source>
        <translation>Welche Übungen</translation>
    </message>
    <message>
        <source>{0}, {1:g} min</source>
        <translation>{0}, {1:g} min</translation>
    </message>
    <message>
        <source>{0} (not now)</source>
        <translation>{0} (jetzt nicht)</translation>
    </message>
    <message>
        <source>No drill of these words; choose “all drills”.</source>
        <translation>Keine Übung mit diesen Wörtern; „alle Übungen“ wählen.</translation>
    </message>
    <message>
        <source>No plan yet. Choose drills on the right, say how many minutes a day, and make one.</source>
        <translation>Noch kein Plan. Rechts Übungen wählen, Minuten am Tag sagen und einen machen.</translation>
    </message>
    <message>
        <source>{0} days, up to {1:.0f} minutes a day.</source>
        <translation>{0} Tage, bis zu {1:.0f} Minuten am Tag.</translation>
    </message>
    <message>
        <source>Left out: {0}.</source>
        <translation>Weggelassen: {0}.</translation>
    </message>
    <message>
        <source>Paused: {0}.</source>
        <translation>Ausgesetzt: {0}.</translation>
    </message>
    <message>
        <source>▸ today: </source>
        <translation>▸ heute: </translation>
    </message>
    <message>
        <source>{0}{1:%A %d %B}, {2:.0f} minutes</source>
        <translation>{0}{1:%A %d %B}, {2:.0f} Minuten</translation>
    </message>
    <message>
        <source>Allow again: {0}</source>
        <translation>Wieder erlauben: {0}</translation>
    </message>
    <message>
        <source>Your word lifts the pause; nothing else does</source>
        <translation>Nur Ihr Wort hebt die Pause auf</translation>
    </message>
    <message>
        <source>{0} days in a row.</source>
        <translation>{0} Tage hintereinander.</translation>
    </message>
    <message>
        <source>{0:.0f} minutes on practice days lately.</source>
        <translation>Zuletzt {0:.0f} Minuten an Übetagen.</translation>
    </message>
    <message>
        <source>Paused for pain: {0}.</source>
        <translation>Wegen Schmerz ausgesetzt: {0}.</translation>
    </message>
    <message>
        <source>Nothing written down yet.</source>
        <translation>Noch nichts eingetragen.</translation>
    </message>
    <message>
        <source>{0} of {1} settings</source>
        <translation>{0} von {1} Ansätzen</translation>
    </message>
    <message>
        <source>it hurt</source>
        <translation>es tat weh</translation>
    </message>
    <message>
        <source>allowed again</source>
        <translation>wieder erlaubt</translation>
    </message>
    <message>
        <source>{0} places of half a minute, {1:.0f} minutes: {2} cm from the frog. Rest after it.</source>
        <translation>{0} Stellen zu je einer halben Minute, {1:.0f} Minuten: {2} cm vom Frosch. Danach ausruhen.</translation>
    </message>
    <message>
        <source>{0}: one setting, {1} just now</source>
        <translation>{0}: ein Griff, {1} gerade eben</translation>
    </message>
    <message>
        <source>▲ better</source>
        <translation>▲ besser</translation>
    </message>
    <message>
        <source>▼ worse</source>
        <translation>▼ schlechter</translation>
    </message>
    <message>
        <source>= same</source>
        <translation>= gleich</translation>
    </message>
    <message>
        <source>? can&apos;t tell</source>
        <translation>? nicht zu sagen</translation>
    </message>
    <message>
        <source>better</source>
        <translation>besser</translation>
    </message>
    <message>
        <source>same</source>
        <translation>gleich</translation>
    </message>
    <message>
        <source>worse</source>
        <translation>schlechter</translation>
    </message>
    <message>
        <source>can&apos;t tell</source>
        <translation>nicht zu sagen</translation>
    </message>
    <message>
        <source>Two analysed videos of the same task (the same strings, the same part of the bow) are needed. Analyse one more.</source>
        <translation>Nötig sind zwei ausgewertete Videos derselben Aufgabe (dieselben Saiten, derselbe Teil des Bogens). Werten Sie noch eines aus.</translation>
    </message>
    <message>
        <source>Two analysed videos of the same task appear here side by side.</source>
        <translation>Hier stehen zwei ausgewertete Aufnahmen derselben Aufgabe nebeneinander.</translation>
    </message>
    <message>
        <source>whole bows</source>
        <translation>ganze Bögen</translation>
    </message>
    <message>
        <source>lower half</source>
        <translation>untere Hälfte</translation>
    </message>
    <message>
        <source>upper half</source>
        <translation>obere Hälfte</translation>
    </message>
    <message>
        <source>middle of the bow</source>
        <translation>Bogenmitte</translation>
    </message>
    <message>
        <source>at the frog</source>
        <translation>am Frosch</translation>
    </message>
    <message>
        <source>mixed portions</source>
        <translation>gemischte Teile</translation>
    </message>
    <message>
        <source>lifted</source>
        <translation>abgehoben</translation>
    </message>
    <message>
        <source>in the middle</source>
        <translation>in der Mitte</translation>
    </message>
    <message>
        <source>{0}: nothing new yet; write it down when it is done.</source>
        <translation>{0}: noch nichts Neues; aufschreiben, wenn es getan ist.</translation>
    </message>
    <message>
        <source>at the tip</source>
        <translation>an der Spitze</translation>
    </message>
    <message>
        <source>String</source>
        <translation>Saite</translation>
    </message>
    <message>
        <source>{0}: {1} since the video before</source>
        <translation>{0}: {1} seit der Aufnahme davor</translation>
    </message>
    <message>
        <source>strings {0}</source>
        <translation>Saiten {0}</translation>
    </message>
    <message>
        <source>since the plan began on {0:%d %B}: {1}</source>
        <translation>seit der Plan begann am {0:%d %B}: {1}</translation>
    </message>
    <message>
        <source>Better or worse only where the difference is larger than twice its ±. Only like is set against like.</source>
        <translation>Besser oder schlechter nur, wo der Unterschied größer ist als das Doppelte seines ±. Nur Gleiches wird verglichen.</translation>
    </message>
    <message>
        <source>{0}: from {1:.1f} to {2:.1f}{3} in {4} days; {5} from first to last.</source>
        <translation>{0}: von {1:.1f} zu {2:.1f}{3} in {4} Tagen; {5} von der ersten zur letzten.</translation>
    </message>
    <message>
        <source>So far: {0}, {1} on {2}.</source>
        <translation>Bisher: {0}, {1} am {2}.</translation>
    </message>
    <message>
        <source>What was prescribed on {0}</source>
        <translation>Was am {0} verordnet wurde</translation>
    </message>
    <message>
        <source>Nothing was measured for it before the plan.</source>
        <translation>Vor dem Plan wurde dafür nichts gemessen.</translation>
    </message>
    <message>
        <source>{0}: nothing new yet; film the same task again.</source>
        <translation>{0}: noch nichts Neues; dieselbe Aufgabe noch einmal filmen.</translation>
    </message>
    <message>
        <source>All figures</source>
        <translation>Alle Werte</translation>
    </message>
    <message>
        <source>This figure comes from no video.</source>
        <translation>Dieser Wert kommt aus keinem Video.</translation>
    </message>
    <message>
        <source>One moment…</source>
        <translation>Einen Moment…</translation>
    </message>
    <message>
        <source>Bow and bridge</source>
        <translation>Bogen und Steg</translation>
    </message>
    <message>
        <source>Angle</source>
        <translation>Winkel</translation>
    </message>
    <message>
        <source>Contact</source>
        <translation>Kontakt</translation>
    </message>
    <message>
        <source>[ and ] choose the frog or the head, arrows move it, Enter sets it, Escape leaves it</source>
        <translation>[ und ] fassen Frosch und Spitze, Pfeile bewegen sie, Eingabe setzt sie, Esc lässt sie</translation>
    </message>
    <message>
        <source>Show or hide ({0})</source>
        <translation>Zeigen oder verbergen ({0})</translation>
    </message>
    <message>
        <source>Draw on the picture: {0}</source>
        <translation>Ins Bild zeichnen: {0}</translation>
    </message>
    <message>
        <source>Not analysed yet</source>
        <translation>Noch nicht ausgewertet</translation>
    </message>
    <message>
        <source>Mark the instrument, then analyse the video.</source>
        <translation>Das Instrument markieren, dann die Aufnahme auswerten.</translation>
    </message>
    <message>
        <source>No findings</source>
        <translation>Nichts zu bemerken</translation>
    </message>
    <message>
        <source>1 finding</source>
        <translation>1 Befund</translation>
    </message>
    <message>
        <source>{0} findings</source>
        <translation>{0} Befunde</translation>
    </message>
    <message>
        <source>{0} strokes, {1} of their frames measured.</source>
        <translation>{0} Striche, {1} ihrer Bilder gemessen.</translation>
    </message>
    <message>
        <source>Profile: {0}.</source>
        <translation>Profil: {0}.</translation>
    </message>
    <message>
        <source>All strokes stay within the profile&apos;s limits. The figures of each stroke are below.</source>
        <translation>Alle Striche bleiben in den Grenzen des Profils. Die Zahlen jedes Strichs stehen unten.</translation>
    </message>
    <message>
        <source>{0} strokes so far</source>
        <translation>Bisher {0} Striche</translation>
    </message>
    <message>
        <source>The first ones, roughly: the whole video will correct them.</source>
        <translation>Die ersten, grob bestimmt: Die ganze Aufnahme berichtigt sie.</translation>
    </message>
    <message>
        <source>Add a student</source>
        <translation>Einen Schüler hinzufügen</translation>
    </message>
    <message>
        <source>On the left, below: a name, the instrument with its size, the bow hand, and whose limits are to count.</source>
        <translation>Links unten: ein Name, das Instrument mit seiner Größe, die Bogenhand und wessen Grenzen gelten sollen.</translation>
    </message>
    <message>
        <source>From the front, a little above, on the scroll side; the whole bow in the picture. It stays where it is, on this machine.</source>
        <translation>Von vorn, etwas von oben, auf der Schneckenseite; der ganze Bogen im Bild. Es bleibt, wo es ist, auf diesem Rechner.</translation>
    </message>
    <message>
        <source>Students</source>
        <translation>Schüler</translation>
    </message>
    <message>
        <source>Name, lesson, profile, instrument, measurements; or remove the student</source>
        <translation>Name, Stunde, Profil, Instrument, Maße; oder den Schüler entfernen</translation>
    </message>
    <message>
        <source>What is asked of hold, arm and bow, one choice at a time (Ctrl+P)</source>
        <translation>Was von Haltung, Arm und Bogen verlangt wird, eine Entscheidung nach der anderen (Strg+P)</translation>
    </message>
    <message>
        <source>Agreed</source>
        <translation>Vereinbart</translation>
    </message>
    <message>
        <source>Practised</source>
        <translation>Geübt</translation>
    </message>
    <message>
        <source>Changed</source>
        <translation>Verändert</translation>
    </message>
    <message>
        <source>Open a video…</source>
        <translation>Video öffnen…</translation>
    </message>
    <message>
        <source>Ctrl+O, or drop a video anywhere on this window</source>
        <translation>Strg+O, oder ein Video irgendwo auf dieses Fenster ziehen</translation>
    </message>
    <message>
        <source>or drop it on this window. It stays where it is, on this machine.</source>
        <translation>oder auf dieses Fenster ziehen. Es bleibt, wo es ist, auf diesem Rechner.</translation>
    </message>
    <message>
        <source>A new student</source>
        <translation>Ein neuer Schüler</translation>
    </message>
    <message>
        <source>Name</source>
        <translation>Name</translation>
    </message>
    <message>
        <source>Name of the new student</source>
        <translation>Name des neuen Schülers</translation>
    </message>
    <message>
        <source>Instrument and size</source>
        <translation>Instrument und Größe</translation>
    </message>
    <message>
        <source>Bow hand</source>
        <translation>Bogenhand</translation>
    </message>
    <message>
        <source>Profile</source>
        <translation>Profil</translation>
    </message>
    <message>
        <source>Which school&apos;s limits count. A starting point, not the truth; it can be changed.</source>
        <translation>Welche Schule die Grenzen setzt. Ein Anfang, nicht die Wahrheit; es lässt sich ändern.</translation>
    </message>
    <message>
        <source>Add</source>
        <translation>Hinzufügen</translation>
    </message>
    <message>
        <source>Next: {0}, {1}</source>
        <translation>Als Nächstes: {0}, {1}</translation>
    </message>
    <message>
        <source>Everybody</source>
        <translation>Alle</translation>
    </message>
    <message>
        <source>Lesson today or tomorrow</source>
        <translation>Stunde heute oder morgen</translation>
    </message>
    <message>
        <source>Not filmed for a month</source>
        <translation>Seit einem Monat nicht gefilmt</translation>
    </message>
    <message>
        <source>Not filmed for a year</source>
        <translation>Seit einem Jahr nicht gefilmt</translation>
    </message>
    <message>
        <source>Kept longer than agreed</source>
        <translation>Länger aufbewahrt als vereinbart</translation>
    </message>
    <message>
        <source>Look for a name or an instrument</source>
        <translation>Namen oder Instrument suchen</translation>
    </message>
    <message>
        <source>Look for a student</source>
        <translation>Einen Schüler suchen</translation>
    </message>
    <message>
        <source>Which students</source>
        <translation>Welche Schüler</translation>
    </message>
    <message>
        <source>Nobody here yet.</source>
        <translation>Noch niemand da.</translation>
    </message>
    <message>
        <source>Nobody like that.</source>
        <translation>Niemand, auf den das passt.</translation>
    </message>
    <message>
        <source>▸ next: </source>
        <translation>▸ als Nächstes: </translation>
    </message>
    <message>
        <source>Three steps to the first finding</source>
        <translation>Drei Schritte zum ersten Befund</translation>
    </message>
    <message>
        <source>1 video</source>
        <translation>1 Aufnahme</translation>
    </message>
    <message>
        <source>Four clicks: the ends of the bridge and the corners of the fingerboard. Then analyse; the first finding comes by itself.</source>
        <translation>Vier Klicks: die Enden des Stegs und die Ecken des Griffbretts. Dann auswerten; der erste Befund kommt von selbst.</translation>
    </message>
    <message>
        <source>{0} videos</source>
        <translation>{0} Aufnahmen</translation>
    </message>
    <message>
        <source>{0}  Profile: {1}.</source>
        <translation>{0}  Profil: {1}.</translation>
    </message>
    <message>
        <source>No video yet. Open one of the bowing: from the front, a little above the scroll side, the whole bow in the picture.</source>
        <translation>Noch keine Aufnahme. Ein Video vom Streichen öffnen: von vorn, etwas über der Schneckenseite, der ganze Bogen im Bild.</translation>
    </message>
    <message>
        <source>Nothing yet: accept a finding, or make a plan.</source>
        <translation>Noch nichts: einen Befund annehmen oder einen Plan machen.</translation>
    </message>
    <message>
        <source>No plan yet.</source>
        <translation>Noch kein Plan.</translation>
    </message>
    <message>
        <source>Two analysed videos of the same task will show it.</source>
        <translation>Zwei ausgewertete Aufnahmen derselben Aufgabe sagen es.</translation>
    </message>
    <message>
        <source>The video is not where it was: open it to find it again.</source>
        <translation>Das Video ist nicht mehr an seinem Ort: öffnen, um es wiederzufinden.</translation>
    </message>
    <message>
        <source>no finding</source>
        <translation>kein Befund</translation>
    </message>
    <message>
        <source>● analysed: {0} strokes, {1}</source>
        <translation>● ausgewertet: {0} Striche, {1}</translation>
    </message>
    <message>
        <source>◐ calibrated, ready to analyse</source>
        <translation>◐ kalibriert, bereit zum Auswerten</translation>
    </message>
    <message>
        <source>○ not calibrated yet</source>
        <translation>○ noch nicht kalibriert</translation>
    </message>
    <message>
        <source>Remove…</source>
        <translation>Entfernen…</translation>
    </message>
    <message>
        <source>Remove it and everything measured from it; the video file itself stays</source>
        <translation>Die Aufnahme und alles daraus Gemessene entfernen; das Video selbst bleibt</translation>
    </message>
    <message>
        <source>Choose a video, or open one, under “Students”.</source>
        <translation>Wählen Sie unter „Schüler“ eine Aufnahme oder öffnen Sie ein Video.</translation>
    </message>
    <message>
        <source>The picture is mirrored (selfie camera)</source>
        <translation>Das Bild ist gespiegelt (Selfie-Kamera)</translation>
    </message>
    <message>
        <source>Tick it when writing in the picture reads backwards</source>
        <translation>Ankreuzen, wenn Schrift im Bild rückwärts läuft</translation>
    </message>
    <message>
        <source>Best view: from the front, a little above, on the scroll side; the whole bow in the picture in both directions; light from the front.</source>
        <translation>Beste Sicht: von vorn, etwas von oben, auf der Schneckenseite; der ganze Bogen in beiden Richtungen im Bild; Licht von vorn.</translation>
    </message>
    <message>
        <source>Filmed by a second phone too</source>
        <translation>Auch von einem zweiten Telefon gefilmt</translation>
    </message>
    <message>
        <source>Another video of the same playing: both are measured together. If it shows only the player, it tells the arm</source>
        <translation>Ein weiteres Video desselben Spielens: Beide werden zusammen ausgewertet. Zeigt es den Spieler und nicht das Instrument, misst es den Arm</translation>
    </message>
    <message>
        <source>Both pictures side by side</source>
        <translation>Beide Bilder nebeneinander</translation>
    </message>
    <message>
        <source>Analyse first: then their clocks are laid together</source>
        <translation>Zuerst auswerten: dann sind ihre Uhren zusammengelegt</translation>
    </message>
    <message>
        <source>Mark the instrument</source>
        <translation>Instrument markieren</translation>
    </message>
    <message>
        <source>Played on</source>
        <translation>Gespielt am</translation>
    </message>
    <message>
        <source>with sound</source>
        <translation>mit Ton</translation>
    </message>
    <message>
        <source>without sound: the string is told from the bow alone</source>
        <translation>ohne Ton: Die Saite wird nur aus dem Bogen bestimmt</translation>
    </message>
    <message>
        <source>{0}
{1} x {2}, {3:.0f} pictures a second, {4:.1f} s, {5}</source>
        <translation>{0}
{1} x {2}, {3:.0f} Bilder je Sekunde, {4:.1f} s, {5}</translation>
    </message>
    <message>
        <source>✓ accepted</source>
        <translation>✓ angenommen</translation>
    </message>
    <message>
        <source>✕ dismissed</source>
        <translation>✕ verworfen</translation>
    </message>
    <message>
        <source>Finding {0}: {1}</source>
        <translation>Befund {0}: {1}</translation>
    </message>
    <message>
        <source>Click: the picture goes to its worst moment; click again for the next</source>
        <translation>Klick: Das Bild geht zum deutlichsten Moment; nochmals: zum nächsten</translation>
    </message>
    <message>
        <source>{0}, limit {1}</source>
        <translation>{0}, Grenze {1}</translation>
    </message>
    <message>
        <source>Steps of the job</source>
        <translation>Schritte der Arbeit</translation>
    </message>
    <message>
        <source>Left and right arrow keys move between the steps</source>
        <translation>Pfeil links und rechts gehen von Schritt zu Schritt</translation>
    </message>
    <message>
        <source>on the string</source>
        <translation>auf der Saite</translation>
    </message>
    <message>
        <source>lifted after</source>
        <translation>danach abgehoben</translation>
    </message>
    <message>
        <source>landing from the air</source>
        <translation>aus der Luft landend</translation>
    </message>
    <message>
        <source>whole</source>
        <translation>ganz</translation>
    </message>
    <message>
        <source>Strings in order</source>
        <translation>Saiten der Reihe nach</translation>
    </message>
    <message>
        <source>Strokes on each string</source>
        <translation>Striche auf jeder Saite</translation>
    </message>
    <message>
        <source>Part of the bow</source>
        <translation>Teil des Bogens</translation>
    </message>
    <message>
        <source>Beats of a stroke</source>
        <translation>Schläge je Strich</translation>
    </message>
    <message>
        <source>Notes in a bow</source>
        <translation>Noten auf einen Bogen</translation>
    </message>
    <message>
        <source>How</source>
        <translation>Wie</translation>
    </message>
    <message>
        <source>Add line</source>
        <translation>Zeile hinzufügen</translation>
    </message>
    <message>
        <source>strings</source>
        <translation>Saiten</translation>
    </message>
    <message>
        <source>how many</source>
        <translation>wie viele</translation>
    </message>
    <message>
        <source>part</source>
        <translation>Teil</translation>
    </message>
    <message>
        <source>beats</source>
        <translation>Schläge</translation>
    </message>
    <message>
        <source>notes</source>
        <translation>Noten</translation>
    </message>
    <message>
        <source>Opening the video</source>
        <translation>Video öffnen</translation>
    </message>
    <message>
        <source>Following the bow</source>
        <translation>Bogen beobachten</translation>
    </message>
    <message>
        <source>Solving the bow</source>
        <translation>Bogen berechnen</translation>
    </message>
    <message>
        <source>Looking at the player</source>
        <translation>Spieler wird angesehen</translation>
    </message>
    <message>
        <source>Progress of the analysis</source>
        <translation>Fortschritt der Auswertung</translation>
    </message>
    <message>
        <source>Pause</source>
        <translation>Pause</translation>
    </message>
    <message>
        <source>Archives (*.zip)</source>
        <translation>Archive (*.zip)</translation>
    </message>
    <message>
        <source>Stopped; nothing was written.</source>
        <translation>Angehalten; nichts wurde geschrieben.</translation>
    </message>
    <message>
        <source>There is nobody to be written: add a student first.</source>
        <translation>Es gibt niemanden zu schreiben: zuerst jemanden hinzufügen.</translation>
    </message>
    <message>
        <source>Take in an archive</source>
        <translation>Ein Archiv aufnehmen</translation>
    </message>
    <message>
        <source>Archive: {0} of {1} files</source>
        <translation>Archiv: {0} von {1} Dateien</translation>
    </message>
    <message>
        <source>Stop</source>
        <translation>Messen abbrechen</translation>
    </message>
    <message>
        <source>Taken in: {0}.</source>
        <translation>Aufgenommen: {0}.</translation>
    </message>
    <message>
        <source>Here already, left as they are: {0}.</source>
        <translation>Schon hier, unverändert gelassen: {0}.</translation>
    </message>
    <message>
        <source>about {0:.0f} s left</source>
        <translation>noch etwa {0:.0f} s</translation>
    </message>
    <message>
        <source>{0} of {1} frames</source>
        <translation>{0} von {1} Bildern</translation>
    </message>
    <message>
        <source>Go on</source>
        <translation>Weiter</translation>
    </message>
    <message>
        <source>Paused. {0}</source>
        <translation>Angehalten. {0}</translation>
    </message>
    <message>
        <source>Message</source>
        <translation>Meldung</translation>
    </message>
    <message>
        <source>What to do about it</source>
        <translation>Was dagegen zu tun ist</translation>
    </message>
    <message>
        <source>videos noted</source>
        <translation>Videos vermerkt</translation>
    </message>
    <message>
        <source>practice plans</source>
        <translation>Übungspläne</translation>
    </message>
    <message>
        <source>entries of the log</source>
        <translation>Einträge im Übungsbuch</translation>
    </message>
    <message>
        <source>answers</source>
        <translation>Antworten</translation>
    </message>
    <message>
        <source>pictures of the hand noted</source>
        <translation>Bilder der Hand vermerkt</translation>
    </message>
    <message>
        <source>agreements</source>
        <translation>Vereinbarungen</translation>
    </message>
    <message>
        <source>measurements</source>
        <translation>Messungen</translation>
    </message>
    <message>
        <source>copies of the database, a week of them</source>
        <translation>Kopien der Datenbank, eine Woche lang</translation>
    </message>
    <message>
        <source>video</source>
        <translation>Video</translation>
    </message>
    <message>
        <source>sheet</source>
        <translation>Blatt</translation>
    </message>
    <message>
        <source>report</source>
        <translation>Bericht</translation>
    </message>
    <message>
        <source>annotations</source>
        <translation>Anmerkungen</translation>
    </message>
    <message>
        <source>calendar</source>
        <translation>Kalender</translation>
    </message>
    <message>
        <source>archive</source>
        <translation>Archiv</translation>
    </message>
    <message>
        <source>archive of the whole studio: it stays when this student is removed</source>
        <translation>Archiv des ganzen Studios: es bleibt, wenn diese Person entfernt wird</translation>
    </message>
    <message>
        <source>video for the student</source>
        <translation>Video für den Schüler</translation>
    </message>
    <message>
        <source>{0:.1f} MB</source>
        <translation>{0:.1f} MB</translation>
    </message>
    <message>
        <source>{0:.0f} kB</source>
        <translation>{0:.0f} kB</translation>
    </message>
    <message>
        <source>What is kept of {0}</source>
        <translation>Was von {0} aufbewahrt wird</translation>
    </message>
    <message>
        <source>What was agreed</source>
        <translation>Was vereinbart wurde</translation>
    </message>
    <message>
        <source>What is kept, and where</source>
        <translation>Was aufbewahrt wird und wo</translation>
    </message>
    <message>
        <source>the video files too</source>
        <translation>auch die Videodateien</translation>
    </message>
    <message>
        <source>Remove everything…</source>
        <translation>Alles entfernen…</translation>
    </message>
    <message>
        <source>Close</source>
        <translation>Schließen</translation>
    </message>
    <message>
        <source>who agreed: a guardian, or the grown-up student</source>
        <translation>wer zugestimmt hat: Erziehungsberechtigte oder der erwachsene Schüler</translation>
    </message>
    <message>
        <source>Agreed on</source>
        <translation>Vereinbart am</translation>
    </message>
    <message>
        <source>Kept until</source>
        <translation>Aufbewahrt bis</translation>
    </message>
    <message>
        <source>no end agreed</source>
        <translation>kein Ende vereinbart</translation>
    </message>
    <message>
        <source>videos are measured here</source>
        <translation>Videos werden hier gemessen</translation>
    </message>
    <message>
        <source>pictures may be on paper and in videos (faces hidden)</source>
        <translation>Bilder dürfen auf Papier und in Videos sein (Gesichter verdeckt)</translation>
    </message>
    <message>
        <source>what is written may be handed on</source>
        <translation>Geschriebenes darf weitergegeben werden</translation>
    </message>
    <message>
        <source>what is written says the initials, not the name</source>
        <translation>was geschrieben wird, nennt die Initialen statt des Namens</translation>
    </message>
    <message>
        <source>Who agreed</source>
        <translation>Wer zugestimmt hat</translation>
    </message>
    <message>
        <source>Kept longer than agreed: until {0}.</source>
        <translation>Länger aufbewahrt als vereinbart: bis {0}.</translation>
    </message>
    <message>
        <source>The list of recent files and the places of file dialogs name files, never students.</source>
        <translation>Die Liste zuletzt geöffneter Dateien und die Orte der Dateidialoge nennen Dateien, nie Schüler.</translation>
    </message>
    <message>
        <source>bow in the right hand</source>
        <translation>Bogen in der rechten Hand</translation>
    </message>
    <message>
        <source>bow in the left hand</source>
        <translation>Bogen in der linken Hand</translation>
    </message>
    <message>
        <source>Division of the bow</source>
        <translation>Einteilung des Bogens</translation>
    </message>
    <message>
        <source>Arrow keys go from bow to bow</source>
        <translation>Pfeiltasten gehen von Bogen zu Bogen</translation>
    </message>
    <message>
        <source>Write a rhythm; its division appears here.</source>
        <translation>Einen Rhythmus schreiben; seine Einteilung erscheint hier.</translation>
    </message>
    <message>
        <source>{0} to {1} of the bow</source>
        <translation>{0} bis {1} des Bogens</translation>
    </message>
    <message>
        <source>Instrument at</source>
        <translation>Instrument bei</translation>
    </message>
    <message>
        <source>Neck against the floor</source>
        <translation>Hals gegen den Boden</translation>
    </message>
    <message>
        <source>Head tilted</source>
        <translation>Kopf geneigt</translation>
    </message>
    <message>
        <source>Nose to scroll</source>
        <translation>Nase zur Schnecke</translation>
    </message>
    <message>
        <source>Endpin beside the midline</source>
        <translation>Stachel neben der Mitte</translation>
    </message>
    <message>
        <source>Knees above the hips</source>
        <translation>Knie über den Hüften</translation>
    </message>
    <message>
        <source>Top faces outwards by</source>
        <translation>Decke zeigt nach außen um</translation>
    </message>
    <message>
        <source>{0}. Click: drawn in the picture, the figure solid, what it is measured against dashed.</source>
        <translation>{0}. Klick: ins Bild gezeichnet, die Figur durchgezogen, woran sie gemessen wird gestrichelt.</translation>
    </message>
    <message>
        <source>{0}. Told by the second phone: this picture does not show it.</source>
        <translation>{0}. Vom zweiten Telefon gemessen: Dieses Bild zeigt es nicht.</translation>
    </message>
    <message>
        <source>{0}: {1:g} to {2:g}</source>
        <translation>{0}: {1:g} bis {2:g}</translation>
    </message>
    <message>
        <source>Ribbon of the strokes</source>
        <translation>Band der Striche</translation>
    </message>
    <message>
        <source>Left and right arrow keys go from stroke to stroke</source>
        <translation>Pfeil links und rechts gehen von Strich zu Strich</translation>
    </message>
    <message>
        <source>The strokes appear here once the video is analysed.</source>
        <translation>Die Striche erscheinen hier, sobald die Aufnahme ausgewertet ist.</translation>
    </message>
    <message>
        <source>Stroke {0}, {1} on {2}, {3} to {4}</source>
        <translation>Strich {0}, {1} auf {2}, {3} bis {4}</translation>
    </message>
    <message>
        <source>set by hand</source>
        <translation>von Hand gesetzt</translation>
    </message>
    <message>
        <source>from {0} to {1} of the bow</source>
        <translation>von {0} bis {1} des Bogens</translation>
    </message>
    <message>
        <source>bow angle at most {0}, contact {1}</source>
        <translation>Bogenwinkel höchstens {0}, Kontakt {1}</translation>
    </message>
    <message>
        <source>Band: height = bow position, thickness = speed, hatching = crooked beyond the limit</source>
        <translation>Band: Höhe = Stelle am Bogen, Dicke = Tempo, Schraffur = schräger als die Grenze</translation>
    </message>
    <message>
        <source>Time at each bow position</source>
        <translation>Zeit an jeder Stelle des Bogens</translation>
    </message>
    <message>
        <source>head</source>
        <translation>Spitze</translation>
    </message>
    <message>
        <source>{0} to {1} %: {2}</source>
        <translation>{0} bis {1} %: {2}</translation>
    </message>
    <message>
        <source>reach {0} to {1}</source>
        <translation>Reichweite {0} bis {1}</translation>
    </message>
    <message>
        <source>{0} of the bowing time between {1} and {2} % of the hair</source>
        <translation>{0} der Streichzeit zwischen {1} und {2} % der Haare</translation>
    </message>
    <message>
        <source>frog</source>
        <translation>Frosch</translation>
    </message>
    <message>
        <source>Key of the ribbon</source>
        <translation>Legende des Bandes</translation>
    </message>
    <message>
        <source>within {0:.0f}°</source>
        <translation>innerhalb {0:.0f}°</translation>
    </message>
    <message>
        <source>tip towards the scroll (+)</source>
        <translation>Spitze zur Schnecke (+)</translation>
    </message>
    <message>
        <source>tip towards the player (−)</source>
        <translation>Spitze zum Spieler (−)</translation>
    </message>
    <message>
        <source>thicker = faster</source>
        <translation>dicker = schneller</translation>
    </message>
    <message>
        <source>⚑ finding</source>
        <translation>⚑ Befund</translation>
    </message>
    <message>
        <source>✎ by hand</source>
        <translation>✎ von Hand</translation>
    </message>
    <message>
        <source>missed</source>
        <translation>verfehlt</translation>
    </message>
    <message>
        <source>as asked</source>
        <translation>wie aufgegeben</translation>
    </message>
    <message>
        <source>Asked, stroke {0}: on {1}, from {2} to {3}: {4}</source>
        <translation>Aufgegeben, Strich {0}: auf {1}, von {2} bis {3}: {4}</translation>
    </message>
    <message>
        <source>Left and right arrow keys walk along the strings, Enter shows one</source>
        <translation>Pfeil links und rechts gehen über die Saiten, Eingabe zeigt eine</translation>
    </message>
    <message>
        <source>The heights appear once the arm is measured.</source>
        <translation>Die Stufen erscheinen, sobald der Arm gemessen ist.</translation>
    </message>
    <message>
        <source>Nothing: straight and in its lane</source>
        <translation>Nichts: gerade und in der Spur</translation>
    </message>
    <message>
        <source>The tip points to the scroll all the way</source>
        <translation>Die Spitze zeigt durchweg zur Schnecke</translation>
    </message>
    <message>
        <source>The tip points to the player all the way</source>
        <translation>Die Spitze zeigt durchweg zum Spieler</translation>
    </message>
    <message>
        <source>It swings: scroll at the frog, player at the tip</source>
        <translation>Er schwenkt: am Frosch zur Schnecke, an der Spitze zum Spieler</translation>
    </message>
    <message>
        <source>It runs to the fingerboard</source>
        <translation>Er läuft zum Griffbrett</translation>
    </message>
    <message>
        <source>It runs to the bridge</source>
        <translation>Er läuft zum Steg</translation>
    </message>
    <message>
        <source>Train the eye</source>
        <translation>Das Auge üben</translation>
    </message>
    <message>
        <source>What do you see?</source>
        <translation>Was sehen Sie?</translation>
    </message>
    <message>
        <source>By how much</source>
        <translation>Um wie viel</translation>
    </message>
    <message>
        <source>Say it (Enter)</source>
        <translation>Sagen (Eingabe)</translation>
    </message>
    <message>
        <source>The smallest you see</source>
        <translation>Das Kleinste, das Sie sehen</translation>
    </message>
    <message>
        <source>Begin anew</source>
        <translation>Neu beginnen</translation>
    </message>
    <message>
        <source>A take is being made …</source>
        <translation>Eine Aufnahme entsteht …</translation>
    </message>
    <message>
        <source>A take is being made: {0} %</source>
        <translation>Eine Aufnahme entsteht: {0} %</translation>
    </message>
    <message>
        <source>It is being analysed: {0} %</source>
        <translation>Sie wird ausgewertet: {0} %</translation>
    </message>
    <message>
        <source>The next one (Enter)</source>
        <translation>Die nächste (Eingabe)</translation>
    </message>
    <message>
        <source>about {0} degrees</source>
        <translation>etwa {0} Grad</translation>
    </message>
    <message>
        <source>about {0} mm from frog to tip</source>
        <translation>etwa {0} mm vom Frosch zur Spitze</translation>
    </message>
    <message>
        <source>Yes. {0}.</source>
        <translation>Ja. {0}.</translation>
    </message>
    <message>
        <source>No. {0}.</source>
        <translation>Nein. {0}.</translation>
    </message>
    <message>
        <source>{0} degrees</source>
        <translation>{0} Grad</translation>
    </message>
    <message>
        <source>{0} mm</source>
        <translation>{0} mm</translation>
    </message>
    <message>
        <source>This one could not be measured.</source>
        <translation>Diese konnte nicht gemessen werden.</translation>
    </message>
    <message>
        <source>middle</source>
        <translation>Mitte</translation>
    </message>
    <message>
        <source>Measured: bow angle in degrees: {0}. Contact in mm: {1}.</source>
        <translation>Gemessen: Bogenwinkel in Grad: {0}. Kontaktstelle in mm: {1}.</translation>
    </message>
    <message>
        <source>{0} of {1} rightly left alone</source>
        <translation>{0} von {1} zu Recht nichts gesagt</translation>
    </message>
    <message>
        <source>not told yet ({0} of {1})</source>
        <translation>noch nicht zu sagen ({0} von {1})</translation>
    </message>
    <message>
        <source>Elbow level on {0}: {1} (0 = hanging, 90 = square to the trunk)</source>
        <translation>Ellbogenhöhe auf {0}: {1} (0 = hängend, 90 = quer zum Rumpf)</translation>
    </message>
    <message>
        <source>F, M, T: at the frog, in the middle, at the tip ({0})</source>
        <translation>F, M, T: am Frosch, in der Mitte, an der Spitze ({0})</translation>
    </message>
    <message>
        <source>The pale box holds four fifths of its frames. Click: to one of them.</source>
        <translation>Der helle Kasten hält vier Fünftel seiner Bilder. Klick: zu einem davon.</translation>
    </message>
    <message>
        <source>Split here</source>
        <translation>Hier teilen</translation>
    </message>
    <message>
        <source>C: two strokes from this moment on</source>
        <translation>C: von diesem Moment an zwei Striche</translation>
    </message>
    <message>
        <source>Merge</source>
        <translation>Verbinden</translation>
    </message>
    <message>
        <source>J: one stroke with its neighbour at the nearest turn</source>
        <translation>J: ein Strich mit dem Nachbarn am nächsten Wechsel</translation>
    </message>
    <message>
        <source>Delete: this is no stroke</source>
        <translation>Entf: Das ist kein Strich</translation>
    </message>
    <message>
        <source>down-bow</source>
        <translation>Abstrich</translation>
    </message>
    <message>
        <source>up-bow</source>
        <translation>Aufstrich</translation>
    </message>
    <message>
        <source>Delete stroke</source>
        <translation>Strich löschen</translation>
    </message>
    <message>
        <source>split by hand</source>
        <translation>von Hand geteilt</translation>
    </message>
    <message>
        <source>merged by hand</source>
        <translation>von Hand verbunden</translation>
    </message>
    <message>
        <source>string said by hand</source>
        <translation>Saite von Hand gesagt</translation>
    </message>
    <message>
        <source>Click a figure: to the frame that shows it</source>
        <translation>Klick auf eine Zahl: zum Bild, das sie zeigt</translation>
    </message>
    <message>
        <source>String of this stroke</source>
        <translation>Saite dieses Strichs</translation>
    </message>
    <message>
        <source>Say which string it is: the stroke is analysed again on it</source>
        <translation>Sagen, welche Saite es ist: Der Strich wird auf ihr neu ausgewertet</translation>
    </message>
    <message>
        <source>Between strokes</source>
        <translation>Zwischen den Strichen</translation>
    </message>
    <message>
        <source>Click the ribbon, or press N, to go to a stroke.</source>
        <translation>Auf das Band klicken oder N drücken, um zu einem Strich zu gehen.</translation>
    </message>
    <message>
        <source>Stroke {0}: {1} on {2}{3}</source>
        <translation>Strich {0}: {1} auf {2}{3}</translation>
    </message>
    <message>
        <source>Bow angle {0}  ({1})
Contact {2} from the bridge</source>
        <translation>Bogenwinkel {0}  ({1})
Kontakt {2} vom Steg</translation>
    </message>
    <message>
        <source>, elbow level {0}</source>
        <translation>, Ellbogenhöhe {0}</translation>
    </message>
    <message>
        <source>
{0} of the bow in {1:.2f} s, {2}</source>
        <translation>
{0} des Bogens in {1:.2f} s, {2}</translation>
    </message>
    <message>
        <source>Video on the {0}</source>
        <translation>Aufnahme {0}</translation>
    </message>
    <message>
        <source>Stroke on the {0}</source>
        <translation>Strich {0}</translation>
    </message>
    <message>
        <source>Picture on the {0}</source>
        <translation>Bild {0}</translation>
    </message>
    <message>
        <source>This stroke does not go there.</source>
        <translation>Dieser Strich kommt dort nicht hin.</translation>
    </message>
    <message>
        <source>{0}   {1} from the bridge</source>
        <translation>{0}   {1} vom Steg</translation>
    </message>
    <message>
        <source>Tone field</source>
        <translation>Klangfeld</translation>
    </message>
    <message>
        <source>Analyse a video with sound first.</source>
        <translation>Erst eine Aufnahme mit Ton auswerten.</translation>
    </message>
    <message>
        <source>Strokes: {0}. Arrow keys go from point to point, Enter shows the frame.</source>
        <translation>Striche: {0}. Pfeiltasten gehen von Punkt zu Punkt, Eingabe zeigt das Bild.</translation>
    </message>
    <message>
        <source>harsh edge</source>
        <translation>rauer Rand</translation>
    </message>
    <message>
        <source>too much weight</source>
        <translation>zu viel Gewicht</translation>
    </message>
    <message>
        <source>airy edge</source>
        <translation>luftiger Rand</translation>
    </message>
    <message>
        <source>too little</source>
        <translation>zu wenig</translation>
    </message>
    <message>
        <source>bow speed, cm/s   ● clean  ■ pressed  ▲ airy  ◆ noisy</source>
        <translation>Bogentempo, cm/s   ● sauber  ■ gedrückt  ▲ luftig  ◆ geräuschvoll</translation>
    </message>
    <message>
        <source>{0}, stroke {1} on {2}: {3}, {4:.0f} dB nearer to its noise than your clear strokes; stroke judged {5}</source>
        <translation>{0}, Strich {1} auf {2}: {3}, {4:.0f} dB näher am Geräusch als die klaren Striche; Strich beurteilt als {5}</translation>
    </message>
    <message>
        <source>full speed</source>
        <translation>volles Tempo</translation>
    </message>
    <message>
        <source>half</source>
        <translation>halb</translation>
    </message>
    <message>
        <source>quarter</source>
        <translation>ein Viertel</translation>
    </message>
    <message>
        <source>eighth</source>
        <translation>ein Achtel</translation>
    </message>
    <message>
        <source>Rhythm by clicks</source>
        <translation>Rhythmus mit Klicks</translation>
    </message>
    <message>
        <source>1 to 5 note values, R rest, T retake, full stop for a dot, S slur, P and F loudness, Backspace</source>
        <translation>1 bis 5 Notenwerte, R Pause, T neu ansetzen, Punkt punktiert, S Bindung, P und F Lautstärke, Rücktaste</translation>
    </message>
    <message>
        <source>rest</source>
        <translation>Pause</translation>
    </message>
    <message>
        <source>retake</source>
        <translation>neu</translation>
    </message>
    <message>
        <source>dot</source>
        <translation>Punkt</translation>
    </message>
    <message>
        <source>slur</source>
        <translation>Bindung</translation>
    </message>
    <message>
        <source>back</source>
        <translation>zurück</translation>
    </message>
    <message>
        <source>Previous stroke (P)</source>
        <translation>Voriger Strich (P)</translation>
    </message>
    <message>
        <source>One frame back (Left)</source>
        <translation>Ein Bild zurück (Links)</translation>
    </message>
    <message>
        <source>Play or pause (Space)</source>
        <translation>Abspielen oder anhalten (Leertaste)</translation>
    </message>
    <message>
        <source>One frame on (Right)</source>
        <translation>Ein Bild weiter (Rechts)</translation>
    </message>
    <message>
        <source>Next stroke (N)</source>
        <translation>Nächster Strich (N)</translation>
    </message>
    <message>
        <source>Repeat this stroke (R)</source>
        <translation>Diesen Strich wiederholen (R)</translation>
    </message>
    <message>
        <source>Sound on or off (M)</source>
        <translation>Ton an oder aus (M)</translation>
    </message>
    <message>
        <source>Moment of the video</source>
        <translation>Moment der Aufnahme</translation>
    </message>
    <message>
        <source>Playing speed</source>
        <translation>Abspieltempo</translation>
    </message>
    <message>
        <source>Playing speed (S)</source>
        <translation>Abspieltempo (S)</translation>
    </message>
    <message>
        <source>Picture of the video</source>
        <translation>Bild der Aufnahme</translation>
    </message>
    <message>
        <source>Analyse a video first; then say what was to be played in it.</source>
        <translation>Zuerst eine Aufnahme auswerten; dann sagen, was darin gespielt werden sollte.</translation>
    </message>
    <message>
        <source>“{0}” is kept: {1}</source>
        <translation>„{0}“ ist gesichert: {1}</translation>
    </message>
    <message>
        <source>Assigned to this video; see Distribution and the ribbon.</source>
        <translation>Für diese Aufnahme aufgegeben; siehe Einteilung und Band.</translation>
    </message>
    <message>
        <source>down</source>
        <translation>ab</translation>
    </message>
    <message>
        <source>up</source>
        <translation>auf</translation>
    </message>
    <message>
        <source>Bow {0}, {1}, {2:g} beats</source>
        <translation>Bogen {0}, {1}, {2:g} Schläge</translation>
    </message>
    <message>
        <source>{0} notes</source>
        <translation>{0} Noten</translation>
    </message>
    <message>
        <source>Stroke {0}, {1} on {2}, {3:g} beats</source>
        <translation>Strich {0}, {1} auf {2}, {3:g} Schläge</translation>
    </message>
    <message>
        <source>Pictures (*.jpg *.jpeg *.png *.webp *.tif *.tiff);;All files (*)</source>
        <translation>Bilder (*.jpg *.jpeg *.png *.webp *.tif *.tiff);;Alle Dateien (*)</translation>
    </message>
    <message>
        <source>Choose a student first; the profile is that student&apos;s.</source>
        <translation>Zuerst einen Schüler wählen; das Profil gehört zu ihm.</translation>
    </message>
    <message>
        <source>Open a picture of the bow hand</source>
        <translation>Ein Bild der Bogenhand öffnen</translation>
    </message>
    <message>
        <source>Choose a student first; the picture belongs to somebody.</source>
        <translation>Zuerst einen Schüler wählen; das Bild gehört zu jemandem.</translation>
    </message>
    <message>
        <source>A picture is being looked at; one moment.</source>
        <translation>Ein Bild wird gerade angesehen; einen Moment.</translation>
    </message>
    <message>
        <source>Looking at the hand…</source>
        <translation>Die Hand wird angesehen…</translation>
    </message>
    <message>
        <source>Open an analysed video first: the hand is looked for where the bow is at the frog and at the head.</source>
        <translation>Öffnen Sie zuerst ein ausgewertetes Video: die Hand wird dort gesucht, wo der Bogen am Frosch und an der Spitze ist.</translation>
    </message>
    <message>
        <source>{0} pictures of the hand are kept, {1} of them measured.</source>
        <translation>{0} Bilder der Hand sind aufbewahrt, {1} davon gemessen.</translation>
    </message>
    <message>
        <source>The hand was measured.</source>
        <translation>Die Hand ist bestimmt.</translation>
    </message>
    <message>
        <source>Drag the points to their places; the figures count once they lie there.</source>
        <translation>Die Punkte an ihren Ort ziehen; die Zahlen gelten, sobald sie dort liegen.</translation>
    </message>
    <message>
        <source>Two strokes side by side</source>
        <translation>Zwei Striche nebeneinander</translation>
    </message>
    <message>
        <source>Play (Space)</source>
        <translation>Abspielen (Leertaste)</translation>
    </message>
    <message>
        <source>Back to the desk (Esc)</source>
        <translation>Zurück zum Pult (Esc)</translation>
    </message>
    <message>
        <source>Both pictures stand at the same bow position; arrow keys move along it.</source>
        <translation>Beide Bilder stehen an derselben Stelle des Bogens; Pfeiltasten gehen an ihm entlang.</translation>
    </message>
    <message>
        <source>These two strokes share no bow position: choose others.</source>
        <translation>Diese zwei Striche haben keine Bogenstelle gemeinsam: andere wählen.</translation>
    </message>
    <message>
        <source>At {0} of the bow</source>
        <translation>Bei {0} des Bogens</translation>
    </message>
    <message>
        <source>, within the ±</source>
        <translation>, innerhalb des ±</translation>
    </message>
    <message>
        <source>: right minus left {0}{1}; contact {2:+.0f} mm</source>
        <translation>: rechts minus links {0}{1}; Kontakt {2:+.0f} mm</translation>
    </message>
    <message>
        <source>Stop (Space)</source>
        <translation>Anhalten (Leertaste)</translation>
    </message>
    <message>
        <source>PDF (*.pdf);;Web page (*.html)</source>
        <translation>PDF (*.pdf);;Webseite (*.html)</translation>
    </message>
    <message>
        <source>Not raised for this student any more. {0}</source>
        <translation>Wird bei diesem Schüler nicht mehr genannt. {0}</translation>
    </message>
    <message>
        <source>Other words</source>
        <translation>Andere Worte</translation>
    </message>
    <message>
        <source>Say it your way (empty: the program&apos;s words):</source>
        <translation>Mit eigenen Worten (leer: die des Programms):</translation>
    </message>
    <message>
        <source>What do you see at {0:.1f} s?</source>
        <translation>Was sehen Sie bei {0:.1f} s?</translation>
    </message>
    <message>
        <source>A remark</source>
        <translation>Eine Bemerkung</translation>
    </message>
    <message>
        <source>There is nothing to correct yet: analyse the video, and accept a finding.</source>
        <translation>Es gibt noch nichts zu berichtigen: die Aufnahme auswerten und einen Befund annehmen.</translation>
    </message>
    <message>
        <source>Written: {0}</source>
        <translation>Geschrieben: {0}</translation>
    </message>
    <message>
        <source>The student&apos;s sheet</source>
        <translation>Das Blatt für zu Hause</translation>
    </message>
    <message>
        <source>Practice sheet, {0}</source>
        <translation>Übeblatt, {0}</translation>
    </message>
    <message>
        <source>The report of this video</source>
        <translation>Der Bericht dieser Aufnahme</translation>
    </message>
    <message>
        <source>Annotations</source>
        <translation>Anmerkungen</translation>
    </message>
    <message>
        <source>Lesson: {0}</source>
        <translation>Unterricht: {0}</translation>
    </message>
    <message>
        <source>Stop: {0} At any pain stop.</source>
        <translation>Aufhören: {0} Bei Schmerz aufhören.</translation>
    </message>
    <message>
        <source>Dolcezza</source>
        <translation>Dolcezza</translation>
    </message>
    <message>
        <source>Open an analysed video first: its strokes are laid side by side.</source>
        <translation>Zuerst eine ausgewertete Aufnahme öffnen: Ihre Striche werden nebeneinandergelegt.</translation>
    </message>
    <message>
        <source>Stroke {0} as it was, and as asked</source>
        <translation>Strich {0}, wie er war und wie er verlangt ist</translation>
    </message>
    <message>
        <source>“{0}” is being analysed; this video comes next.</source>
        <translation>„{0}“ wird gerade ausgewertet; diese Aufnahme kommt als nächste.</translation>
    </message>
    <message>
        <source>The open strings sound {0} cents from A = 440 Hz. Are they tuned so?</source>
        <translation>Die leeren Saiten klingen {0} Cent neben A = 440 Hz. Sind sie so gestimmt?</translation>
    </message>
    <message>
        <source>They are tuned so</source>
        <translation>Sie sind so gestimmt</translation>
    </message>
    <message>
        <source>Measured {0} strokes in {1:.0f} seconds.</source>
        <translation>{0} Striche in {1:.0f} Sekunden gemessen.</translation>
    </message>
    <message>
        <source>Analysis stopped; the landmarks are kept.</source>
        <translation>Die Auswertung wurde abgebrochen; die Messpunkte bleiben.</translation>
    </message>
    <message>
        <source>This video is being analysed; set it when that is done.</source>
        <translation>Diese Aufnahme wird gerade ausgewertet; danach setzen.</translation>
    </message>
    <message>
        <source>Analysing again what depends on these landmarks …</source>
        <translation>Was von diesen Messpunkten abhängt, wird neu ausgewertet …</translation>
    </message>
    <message>
        <source>{0}. Ctrl+Z takes it back.</source>
        <translation>{0}. Strg+Z nimmt es zurück.</translation>
    </message>
    <message>
        <source>&amp;Video</source>
        <translation>&amp;Aufnahme</translation>
    </message>
    <message>
        <source>Take in the day’s videos…</source>
        <translation>Videos des Tages aufnehmen…</translation>
    </message>
    <message>
        <source>Results of the day…</source>
        <translation>Ergebnisse des Tages …</translation>
    </message>
    <message>
        <source>Recent</source>
        <translation>Zuletzt geöffnet</translation>
    </message>
    <message>
        <source>Measure</source>
        <translation>Auswerten</translation>
    </message>
    <message>
        <source>Quit</source>
        <translation>Beenden</translation>
    </message>
    <message>
        <source>&amp;Edit</source>
        <translation>&amp;Bearbeiten</translation>
    </message>
    <message>
        <source>Undo</source>
        <translation>Rückgängig</translation>
    </message>
    <message>
        <source>Redo</source>
        <translation>Wiederholen</translation>
    </message>
    <message>
        <source>Analyse</source>
        <translation>Auswerten</translation>
    </message>
    <message>
        <source>Profile of the student</source>
        <translation>Profil des Schülers</translation>
    </message>
    <message>
        <source>Check the phone…</source>
        <translation>Das Telefon prüfen…</translation>
    </message>
    <message>
        <source>Write an archive…</source>
        <translation>Archiv schreiben…</translation>
    </message>
    <message>
        <source>Take in an archive…</source>
        <translation>Archiv aufnehmen…</translation>
    </message>
    <message>
        <source>Split the stroke here</source>
        <translation>Den Strich hier teilen</translation>
    </message>
    <message>
        <source>Merge at the nearest turn</source>
        <translation>Am nächsten Wechsel verbinden</translation>
    </message>
    <message>
        <source>Delete the stroke</source>
        <translation>Den Strich streichen</translation>
    </message>
    <message>
        <source>Leave the bow here to the program</source>
        <translation>Den Bogen hier wieder dem Programm überlassen</translation>
    </message>
    <message>
        <source>Preferences…</source>
        <translation>Einstellungen…</translation>
    </message>
    <message>
        <source>&amp;View</source>
        <translation>A&amp;nsicht</translation>
    </message>
    <message>
        <source>The stroke as asked</source>
        <translation>Der Strich, wie verlangt</translation>
    </message>
    <message>
        <source>The day&apos;s videos</source>
        <translation>Die Videos des Tages</translation>
    </message>
    <message>
        <source>Whose videos are these?</source>
        <translation>Von wem sind diese Videos?</translation>
    </message>
    <message>
        <source>Proposed by the file&apos;s name, the time of filming and what is played. Change what is not right; no file is moved.</source>
        <translation>Vorgeschlagen nach Dateiname, Aufnahmezeit und dem, was gespielt wird. Ändern, was nicht stimmt; die Dateien bleiben, wo sie sind.</translation>
    </message>
    <message>
        <source>Video</source>
        <translation>Video</translation>
    </message>
    <message>
        <source>Filmed</source>
        <translation>Gefilmt</translation>
    </message>
    <message>
        <source>Student</source>
        <translation>Schüler</translation>
    </message>
    <message>
        <source>Why</source>
        <translation>Warum</translation>
    </message>
    <message>
        <source>Take in and analyse</source>
        <translation>Aufnehmen und auswerten</translation>
    </message>
    <message>
        <source>Looking at the pictures for what is played: {0} %</source>
        <translation>In den Bildern wird nachgesehen, was gespielt wird: {0} %</translation>
    </message>
    <message>
        <source>not known</source>
        <translation>nicht bekannt</translation>
    </message>
    <message>
        <source>Whose video is {0}</source>
        <translation>Von wem ist das Video {0}</translation>
    </message>
    <message>
        <source>leave it</source>
        <translation>weglassen</translation>
    </message>
    <message>
        <source>in the studio already, or twice in this list</source>
        <translation>schon im Studio oder zweimal in dieser Liste</translation>
    </message>
    <message>
        <source>nothing tells: choose</source>
        <translation>nichts spricht dafür: bitte wählen</translation>
    </message>
    <message>
        <source>Take in and analyse ({0})</source>
        <translation>Aufnehmen und auswerten ({0})</translation>
    </message>
    <message>
        <source>Results of the day</source>
        <translation>Ergebnisse des Tages</translation>
    </message>
    <message>
        <source>Analysed today</source>
        <translation>Heute ausgewertet</translation>
    </message>
    <message>
        <source>The last one first. What you dismissed is left out; what is not sure is on its page.</source>
        <translation>Das letzte zuerst. Was Sie verworfen haben, fehlt; was nicht sicher ist, steht auf seiner Seite.</translation>
    </message>
    <message>
        <source>Strokes</source>
        <translation>Striche</translation>
    </message>
    <message>
        <source>First</source>
        <translation>Zuerst</translation>
    </message>
    <message>
        <source>Open</source>
        <translation>Öffnen</translation>
    </message>
    <message>
        <source>Open “{0}” of {1}</source>
        <translation>„{0}“ von {1} öffnen</translation>
    </message>
    <message>
        <source>No video has been analysed today.</source>
        <translation>Heute wurde noch kein Video ausgewertet.</translation>
    </message>
    <message>
        <source>Arm</source>
        <translation>Arm</translation>
    </message>
    <message>
        <source>Hold</source>
        <translation>Haltung</translation>
    </message>
    <message>
        <source>Distribution</source>
        <translation>Einteilung</translation>
    </message>
    <message>
        <source>Bow plan</source>
        <translation>Bogenplan</translation>
    </message>
    <message>
        <source>Notes</source>
        <translation>Noten</translation>
    </message>
    <message>
        <source>Correct</source>
        <translation>Berichtigen</translation>
    </message>
    <message>
        <source>Practise</source>
        <translation>Üben</translation>
    </message>
    <message>
        <source>Progress</source>
        <translation>Fortschritt</translation>
    </message>
    <message>
        <source>Light or dark</source>
        <translation>Hell oder dunkel</translation>
    </message>
    <message>
        <source>&amp;Help</source>
        <translation>&amp;Hilfe</translation>
    </message>
    <message>
        <source>Keys</source>
        <translation>Tasten</translation>
    </message>
    <message>
        <source>The drill is paused. Stop at pain; show your teacher, and see a doctor or physiotherapist who knows musicians.</source>
        <translation>Die Übung ist ausgesetzt. Bei Schmerz aufhören; der Lehrkraft zeigen und in einer Praxis fragen, die Musiker kennt.</translation>
    </message>
    <message>
        <source>&apos;{0}&apos; has no minutes.</source>
        <translation>„{0}“ hat keine Minuten.</translation>
    </message>
    <message>
        <source>Write words, then minutes: Study 8.</source>
        <translation>Erst Worte, dann Minuten: Etüde 8.</translation>
    </message>
    <message>
        <source>A plan of {0} days is made; Ctrl+Z takes it back.</source>
        <translation>Ein Plan für {0} Tage ist gemacht; Strg+Z nimmt ihn zurück.</translation>
    </message>
    <message>
        <source>{0} entries written down; Ctrl+Z takes them back.</source>
        <translation>{0} Einträge geschrieben; Strg+Z nimmt sie zurück.</translation>
    </message>
    <message>
        <source>The plan as a calendar</source>
        <translation>Der Plan als Kalender</translation>
    </message>
    <message>
        <source>Make a plan first.</source>
        <translation>Zuerst einen Plan machen.</translation>
    </message>
    <message>
        <source>{0:%d %B %Y}: no down-bow on {1} goes there.</source>
        <translation>{0:%d %B %Y}: Kein Abstrich auf {1} kommt dorthin.</translation>
    </message>
    <message>
        <source>{0:%d %B %Y}, {1} of the bow on {2}.</source>
        <translation>{0:%d %B %Y}, {1} des Bogens auf {2}.</translation>
    </message>
    <message>
        <source>The video is no longer where it was.</source>
        <translation>Das Video ist nicht mehr an seinem Ort.</translation>
    </message>
    <message>
        <source>light</source>
        <translation>hell</translation>
    </message>
    <message>
        <source>dark</source>
        <translation>dunkel</translation>
    </message>
    <message>
        <source>Preferences</source>
        <translation>Einstellungen</translation>
    </message>
    <message>
        <source>Theme</source>
        <translation>Farben</translation>
    </message>
    <message>
        <source>Language</source>
        <translation>Sprache</translation>
    </message>
    <message>
        <source>Size of letters and controls</source>
        <translation>Größe von Schrift und Bedienung</translation>
    </message>
    <message>
        <source>Start with the sound off</source>
        <translation>Ohne Ton beginnen</translation>
    </message>
    <message>
        <source>Language and size count from the next start on.</source>
        <translation>Sprache und Größe gelten ab dem nächsten Start.</translation>
    </message>
    <message>
        <source>The studio lies in {0}. Videos stay where they are; nothing leaves this machine.</source>
        <translation>Das Studio liegt in {0}. Videos bleiben, wo sie sind; nichts verlässt diesen Rechner.</translation>
    </message>
    <message>
        <source>Keep</source>
        <translation>Übernehmen</translation>
    </message>
    <message>
        <source>No video has been opened yet</source>
        <translation>Noch keine Aufnahme geöffnet</translation>
    </message>
    <message>
        <source>Space</source>
        <translation>Leertaste</translation>
    </message>
    <message>
        <source>play or pause</source>
        <translation>abspielen oder anhalten</translation>
    </message>
    <message>
        <source>Left, Right</source>
        <translation>Links, Rechts</translation>
    </message>
    <message>
        <source>one frame back, on</source>
        <translation>ein Bild zurück, weiter</translation>
    </message>
    <message>
        <source>P, N</source>
        <translation>P, N</translation>
    </message>
    <message>
        <source>previous, next stroke</source>
        <translation>voriger, nächster Strich</translation>
    </message>
    <message>
        <source>S</source>
        <translation>S</translation>
    </message>
    <message>
        <source>slower: full, half, quarter, eighth speed</source>
        <translation>langsamer: voll, halb, ein Viertel, ein Achtel</translation>
    </message>
    <message>
        <source>R, M</source>
        <translation>R, M</translation>
    </message>
    <message>
        <source>repeat the stroke; sound on or off</source>
        <translation>den Strich wiederholen; Ton an oder aus</translation>
    </message>
    <message>
        <source>Shift+N, Shift+P</source>
        <translation>Umschalt+N, Umschalt+P</translation>
    </message>
    <message>
        <source>next, previous finding</source>
        <translation>nächster, voriger Befund</translation>
    </message>
    <message>
        <source>A, D</source>
        <translation>A, D</translation>
    </message>
    <message>
        <source>accept, dismiss the chosen finding</source>
        <translation>den gewählten Befund annehmen, verwerfen</translation>
    </message>
    <message>
        <source>1, 2, 3</source>
        <translation>1, 2, 3</translation>
    </message>
    <message>
        <source>bow and bridge, angle, contact: show or hide</source>
        <translation>Bogen und Steg, Winkel, Kontakt: zeigen oder verbergen</translation>
    </message>
    <message>
        <source>Ctrl+1 … Ctrl+9</source>
        <translation>Strg+1 … Strg+9</translation>
    </message>
    <message>
        <source>go to a step of the job</source>
        <translation>zu einem Schritt gehen</translation>
    </message>
    <message>
        <source>Ctrl+P</source>
        <translation>Strg+P</translation>
    </message>
    <message>
        <source>profile of the student: what is asked of hold, arm and bow</source>
        <translation>Profil des Schülers: was von Haltung, Arm und Bogen verlangt wird</translation>
    </message>
    <message>
        <source>L</source>
        <translation>L</translation>
    </message>
    <message>
        <source>Ctrl+0, Ctrl+Shift+0, Ctrl+Shift+8</source>
        <translation>Strg+0, Strg+Umschalt+0, Strg+Umschalt+8</translation>
    </message>
    <message>
        <source>go to practice, to progress, to the notes</source>
        <translation>zum Üben, zum Fortschritt, zu den Noten</translation>
    </message>
    <message>
        <source>lesson view: one thing, big</source>
        <translation>Unterrichtsansicht: eine Sache, groß</translation>
    </message>
    <message>
        <source>B, W</source>
        <translation>B, W</translation>
    </message>
    <message>
        <source>this stroke beside another, or as asked</source>
        <translation>dieser Strich neben einem anderen, oder wie verlangt</translation>
    </message>
    <message>
        <source>Ctrl+O, Ctrl+D, Ctrl+Shift+D, Ctrl+M, Ctrl+K</source>
        <translation>Strg+O, Strg+D, Strg+Umschalt+D, Strg+M, Strg+K</translation>
    </message>
    <message>
        <source>open a video, a day’s, their results, analyse, check phone</source>
        <translation>ein Video öffnen, die des Tages, Ergebnisse, auswerten, Telefon prüfen</translation>
    </message>
    <message>
        <source>Ctrl+Z, Ctrl+Shift+Z</source>
        <translation>Strg+Z, Strg+Umschalt+Z</translation>
    </message>
    <message>
        <source>undo, redo</source>
        <translation>rückgängig, wiederholen</translation>
    </message>
    <message>
        <source>C, J, Delete</source>
        <translation>C, J, Entf</translation>
    </message>
    <message>
        <source>split the stroke here, merge at the nearest turn, delete it</source>
        <translation>den Strich hier teilen, am nächsten Wechsel verbinden, streichen</translation>
    </message>
    <message>
        <source>[ and ] on the picture</source>
        <translation>[ und ] auf dem Bild</translation>
    </message>
    <message>
        <source>choose the bow&apos;s frog or head: arrows move it, Enter sets it</source>
        <translation>Frosch oder Spitze des Bogens fassen: Pfeile bewegen, Eingabe setzt</translation>
    </message>
    <message>
        <source>Backspace</source>
        <translation>Rücktaste</translation>
    </message>
    <message>
        <source>leave the bow in this frame to the program again</source>
        <translation>den Bogen in diesem Bild wieder dem Programm überlassen</translation>
    </message>
    <message>
        <source>Enter on the landmarks&apos; picture</source>
        <translation>Eingabe auf dem Bild der Messpunkte</translation>
    </message>
    <message>
        <source>a cross to aim with: arrows move it (Shift far, Ctrl finely), Enter sets the landmark</source>
        <translation>ein Kreuz zum Zielen: Pfeile bewegen es (Umschalt weit, Strg fein), Eingabe setzt den Messpunkt</translation>
    </message>
    <message>
        <source>[ and ] on the landmarks&apos; picture</source>
        <translation>[ und ] auf dem Bild der Messpunkte</translation>
    </message>
    <message>
        <source>choose the landmark before, after</source>
        <translation>den Messpunkt davor, danach wählen</translation>
    </message>
    <message>
        <source>Arrow keys on a landmark</source>
        <translation>Pfeiltasten auf einem Messpunkt</translation>
    </message>
    <message>
        <source>move it half a pixel, with Shift four</source>
        <translation>bewegen sie um ein halbes Pixel, mit Umschalt um vier</translation>
    </message>
    <message>
        <source>remove the chosen landmark</source>
        <translation>den gewählten Messpunkt entfernen</translation>
    </message>
    <message>
        <source>Wheel</source>
        <translation>Mausrad</translation>
    </message>
    <message>
        <source>larger, smaller picture; drag with the right button to move it</source>
        <translation>größeres, kleineres Bild; mit der rechten Taste ziehen, um es zu bewegen</translation>
    </message>
    <message>
        <source>Ctrl+,</source>
        <translation>Strg+,</translation>
    </message>
    <message>
        <source>preferences</source>
        <translation>Einstellungen</translation>
    </message>
    <message>
        <source>Shift+F1</source>
        <translation>Umschalt+F1</translation>
    </message>
    <message>
        <source>the guide</source>
        <translation>der Leitfaden</translation>
    </message>
    <message>
        <source>Ctrl+E</source>
        <translation>Strg+E</translation>
    </message>
    <message>
        <source>train the eye</source>
        <translation>das Auge üben</translation>
    </message>
    <message>
        <source>F1</source>
        <translation>F1</translation>
    </message>
    <message>
        <source>this sheet</source>
        <translation>dieses Blatt</translation>
    </message>
    <message>
        <source>String length, nut to bridge</source>
        <translation>Saitenlänge, Sattel bis Steg</translation>
    </message>
    <message>
        <source>Bridge to the end of the fingerboard</source>
        <translation>Steg bis Ende des Griffbretts</translation>
    </message>
    <message>
        <source>Hair of the bow, ferrule to head</source>
        <translation>Bogenhaar, Zwinge bis Kopf</translation>
    </message>
    <message>
        <source>Outer strings apart at the bridge</source>
        <translation>Abstand der äußeren Saiten am Steg</translation>
    </message>
    <message>
        <source>Outer strings apart at the nut</source>
        <translation>Abstand der äußeren Saiten am Sattel</translation>
    </message>
    <message>
        <source>no weekly lesson</source>
        <translation>keine wöchentliche Stunde</translation>
    </message>
    <message>
        <source>Day of the weekly lesson</source>
        <translation>Tag der wöchentlichen Stunde</translation>
    </message>
    <message>
        <source>not said</source>
        <translation>nicht gesagt</translation>
    </message>
    <message>
        <source>very mobile joints: half the dose for the thumb</source>
        <translation>sehr bewegliche Gelenke: halbe Dosis für den Daumen</translation>
    </message>
    <message>
        <source>was in pain: hard drills wait</source>
        <translation>hatte Schmerzen: anstrengende Übungen warten</translation>
    </message>
    <message>
        <source>Weekly lesson</source>
        <translation>Wöchentliche Stunde</translation>
    </message>
    <message>
        <source>Time of the weekly lesson</source>
        <translation>Uhrzeit der wöchentlichen Stunde</translation>
    </message>
    <message>
        <source>Instrument</source>
        <translation>Instrument</translation>
    </message>
    <message>
        <source>Born in</source>
        <translation>Geboren</translation>
    </message>
    <message>
        <source>Year of birth</source>
        <translation>Geburtsjahr</translation>
    </message>
    <message>
        <source>Measured with a ruler</source>
        <translation>Mit dem Lineal gemessen</translation>
    </message>
    <message>
        <source>In millimetres; leave empty what the table of sizes is right about. It counts for new takes.</source>
        <translation>In Millimetern; leer lassen, was in der Größentabelle stimmt. Gilt für neue Aufnahmen.</translation>
    </message>
    <message>
        <source>{0}, mm</source>
        <translation>{0}, mm</translation>
    </message>
    <message>
        <source>Remove this student…</source>
        <translation>Diesen Schüler entfernen…</translation>
    </message>
    <message>
        <source>What is kept…</source>
        <translation>Was aufbewahrt wird…</translation>
    </message>
    <message>
        <source>Everything that is kept of this student and where; what was agreed</source>
        <translation>Alles, was von diesem Schüler aufbewahrt wird und wo; was vereinbart wurde</translation>
    </message>
    <message>
        <source>&apos;{0}&apos; is not a number of millimetres.</source>
        <translation>„{0}“ ist keine Zahl in Millimetern.</translation>
    </message>
    <message>
        <source>Write it like 328.5.</source>
        <translation>Etwa so: 328.5.</translation>
    </message>
    <message>
        <source>Remove the student</source>
        <translation>Den Schüler entfernen</translation>
    </message>
    <message>
        <source>Add a student first; the video belongs to somebody.</source>
        <translation>Zuerst einen Schüler hinzufügen; das Video gehört zu jemandem.</translation>
    </message>
    <message>
        <source>Open a video</source>
        <translation>Ein Video öffnen</translation>
    </message>
    <message>
        <source>Videos (*.mp4 *.mov *.m4v *.mkv *.webm *.avi *.3gp);;All files (*)</source>
        <translation>Videos (*.mp4 *.mov *.m4v *.mkv *.webm *.avi *.3gp);;Alle Dateien (*)</translation>
    </message>
    <message>
        <source>Remove {0} with {1} videos, everything measured, plans, log and what was written for them, for good? The video files stay where they are.</source>
        <translation>{0} mit {1} Videos, allem Gemessenen, Plänen, Übungsbuch und allem, was dafür geschrieben wurde, endgültig entfernen? Die Videodateien bleiben, wo sie sind.</translation>
    </message>
    <message>
        <source>Remove {0} with {1} videos and their files, everything measured, plans, log and what was written for them, for good?</source>
        <translation>{0} mit {1} Videos und deren Dateien, allem Gemessenen, Plänen, Übungsbuch und allem, was dafür geschrieben wurde, endgültig entfernen?</translation>
    </message>
    <message>
        <source>These files could not be removed: {0}. Remove them yourself.</source>
        <translation>Diese Dateien ließen sich nicht entfernen: {0}. Bitte selbst entfernen.</translation>
    </message>
    <message>
        <source>Open that video</source>
        <translation>Diese Aufnahme öffnen</translation>
    </message>
    <message>
        <source>{0} waits: add a student first, then open it.</source>
        <translation>{0} wartet: zuerst einen Schüler hinzufügen, dann öffnen.</translation>
    </message>
    <message>
        <source>Whose video is {0}? Choose the student, then add it.</source>
        <translation>Wessen Video ist {0}? Den Schüler wählen, dann aufnehmen.</translation>
    </message>
    <message>
        <source>Add it</source>
        <translation>Aufnehmen</translation>
    </message>
    <message>
        <source>Find the video…</source>
        <translation>Video suchen…</translation>
    </message>
    <message>
        <source>Where is the video now?</source>
        <translation>Wo ist das Video jetzt?</translation>
    </message>
    <message>
        <source>Remove “{0}” and everything measured from it? This cannot be undone. The video file stays where it is.</source>
        <translation>„{0}“ und alles daraus Gemessene entfernen? Das lässt sich nicht rückgängig machen. Die Videodatei bleibt, wo sie ist.</translation>
    </message>
    <message>
        <source>Remove a video</source>
        <translation>Eine Aufnahme entfernen</translation>
    </message>
    <message>
        <source>bridge</source>
        <translation>Steg</translation>
    </message>
    <message>
        <source>fingerboard</source>
        <translation>Griffbrett</translation>
    </message>
    <message>
        <source>nut</source>
        <translation>Sattel</translation>
    </message>
    <message>
        <source>lower bout</source>
        <translation>Unterbug</translation>
    </message>
    <message>
        <source>upper bout</source>
        <translation>Oberbug</translation>
    </message>
    <message>
        <source>end button</source>
        <translation>Endknopf</translation>
    </message>
    <message>
        <source>scroll</source>
        <translation>Schnecke</translation>
    </message>
    <message>
        <source>bridge, low-string end</source>
        <translation>Steg, Ende bei den tiefen Saiten</translation>
    </message>
    <message>
        <source>bridge, high-string end</source>
        <translation>Steg, Ende bei den hohen Saiten</translation>
    </message>
    <message>
        <source>fingerboard corner, low-string side</source>
        <translation>Ecke des Griffbretts, tiefe Saiten</translation>
    </message>
    <message>
        <source>fingerboard corner, high-string side</source>
        <translation>Ecke des Griffbretts, hohe Saiten</translation>
    </message>
    <message>
        <source>nut, low-string side</source>
        <translation>Sattel, tiefe Saiten</translation>
    </message>
    <message>
        <source>nut, high-string side</source>
        <translation>Sattel, hohe Saiten</translation>
    </message>
    <message>
        <source>lower bout, low-string side</source>
        <translation>Unterbug, Seite der tiefen Saiten</translation>
    </message>
    <message>
        <source>lower bout, high-string side</source>
        <translation>Unterbug, Seite der hohen Saiten</translation>
    </message>
    <message>
        <source>upper bout, low-string side</source>
        <translation>Oberbug, Seite der tiefen Saiten</translation>
    </message>
    <message>
        <source>upper bout, high-string side</source>
        <translation>Oberbug, Seite der hohen Saiten</translation>
    </message>
    <message>
        <source>middle of the scroll</source>
        <translation>Mitte der Schnecke</translation>
    </message>
    <message>
        <source>low side</source>
        <translation>tiefe Seite</translation>
    </message>
    <message>
        <source>high side</source>
        <translation>hohe Seite</translation>
    </message>
    <message>
        <source>No landmark is set</source>
        <translation>Kein Messpunkt gesetzt</translation>
    </message>
    <message>
        <source>The folder {0} is not there.</source>
        <translation>Den Ordner {0} gibt es nicht.</translation>
    </message>
    <message>
        <source>Choose another place for the page.</source>
        <translation>Einen anderen Ort für die Seite wählen.</translation>
    </message>
    <message>
        <source>Course of a figure over the videos</source>
        <translation>Verlauf einer Zahl über die Aufnahmen</translation>
    </message>
    <message>
        <source>Choose a figure.</source>
        <translation>Eine Zahl wählen.</translation>
    </message>
    <message>
        <source>{0:%d %B %Y}: {1} from {2} strokes</source>
        <translation>{0:%d %B %Y}: {1} aus {2} Strichen</translation>
    </message>
    <message>
        <source>aim {0:g}{1}</source>
        <translation>Ziel {0:g}{1}</translation>
    </message>
    <message>
        <source>Click: open that video</source>
        <translation>Klick: diese Aufnahme öffnen</translation>
    </message>
    <message>
        <source>too little bow there</source>
        <translation>dort zu wenig Bogen</translation>
    </message>
    <message>
        <source>{0}: {1} a tenth of the bow.</source>
        <translation>{0}: {1} je Zehntel des Bogens.</translation>
    </message>
    <message>
        <source>How far each joint turns while a tenth of the hair passes the string.</source>
        <translation>Wie weit sich jedes Gelenk dreht, während ein Zehntel des Haars über die Saite geht.</translation>
    </message>
    <message>
        <source>Something unexpected happened ({0}: {1}).</source>
        <translation>Etwas Unerwartetes ist geschehen ({0}: {1}).</translation>
    </message>
    <message>
        <source>Please try again; nothing was lost.</source>
        <translation>Bitte noch einmal versuchen; nichts ging verloren.</translation>
    </message>
    <message>
        <source>Guide</source>
        <translation>Leitfaden</translation>
    </message>
    <message>
        <source>Back</source>
        <translation>Zurück</translation>
    </message>
    <message>
        <source>Beginning</source>
        <translation>Anfang</translation>
    </message>
    <message>
        <source>Next: {0}</source>
        <translation>Als Nächstes: {0}</translation>
    </message>
    <message>
        <source>quiet</source>
        <translation>ruhig</translation>
    </message>
    <message>
        <source>near</source>
        <translation>nahe daran</translation>
    </message>
    <message>
        <source>shows</source>
        <translation>zeigt sich</translation>
    </message>
    <message>
        <source>Put back the copy of {0}?</source>
        <translation>Die Kopie vom {0} zurückholen?</translation>
    </message>
    <message>
        <source>Sound and video (*.wav *.mp3 *.m4a *.ogg *.flac *.mp4 *.mov *.mkv *.webm);;All files (*)</source>
        <translation>Ton und Video (*.wav *.mp3 *.m4a *.ogg *.flac *.mp4 *.mov *.mkv *.webm);;Alle Dateien (*)</translation>
    </message>
    <message>
        <source>Open an analysed video first: the hand is followed through its strokes.</source>
        <translation>Öffnen Sie zuerst ein analysiertes Video: die Hand wird durch seine Striche verfolgt.</translation>
    </message>
    <message>
        <source>Another bow</source>
        <translation>Ein anderer Bogen</translation>
    </message>
    <message>
        <source>Its name, such as: half-size bow</source>
        <translation>Sein Name, etwa: halber Bogen</translation>
    </message>
    <message>
        <source>Print the list</source>
        <translation>Die Liste drucken</translation>
    </message>
    <message>
        <source>PDF (*.pdf)</source>
        <translation>PDF (*.pdf)</translation>
    </message>
    <message>
        <source>Building the hold: {0}</source>
        <translation>Aufbau der Haltung: {0}</translation>
    </message>
    <message>
        <source>At the end</source>
        <translation>Am Ende</translation>
    </message>
    <message>
        <source>Open a recording of the open strings</source>
        <translation>Eine Aufnahme der leeren Saiten öffnen</translation>
    </message>
    <message>
        <source>Open a photo of the bow</source>
        <translation>Ein Foto des Bogens öffnen</translation>
    </message>
    <message>
        <source>{0} is at the stage “{1}” now; Ctrl+Z takes it back.</source>
        <translation>{0} ist jetzt auf der Stufe „{1}“; Strg+Z nimmt es zurück.</translation>
    </message>
    <message>
        <source>Set on the profile page.</source>
        <translation>Auf der Profilseite gesetzt.</translation>
    </message>
    <message>
        <source>Another name</source>
        <translation>Ein anderer Name</translation>
    </message>
    <message>
        <source>Name of the profile:</source>
        <translation>Name des Profils:</translation>
    </message>
    <message>
        <source>Build it</source>
        <translation>Aufbauen</translation>
    </message>
    <message>
        <source>What you see</source>
        <translation>Was Sie sehen</translation>
    </message>
    <message>
        <source>Pictures</source>
        <translation>Bilder</translation>
    </message>
    <message>
        <source>Before playing</source>
        <translation>Vor dem Spielen</translation>
    </message>
    <message>
        <source>not said yet</source>
        <translation>noch nicht gesagt</translation>
    </message>
    <message>
        <source>seen on</source>
        <translation>gesehen am</translation>
    </message>
    <message>
        <source>Day of these answers</source>
        <translation>Tag dieser Antworten</translation>
    </message>
    <message>
        <source>A picture from the back of the hand does not show these. Each answer is kept with its day.</source>
        <translation>Ein Bild vom Handrücken zeigt das nicht. Jede Antwort wird mit ihrem Tag aufbewahrt.</translation>
    </message>
    <message>
        <source>What this comes to: {0}</source>
        <translation>Was daraus folgt: {0}</translation>
    </message>
    <message>
        <source>Nothing in the pictures and answers is against what was chosen.</source>
        <translation>Nichts in Bildern und Antworten spricht gegen das, was gewählt wurde.</translation>
    </message>
    <message>
        <source>Said so far</source>
        <translation>Bisher gesagt</translation>
    </message>
    <message>
        <source>in tune</source>
        <translation>stimmt</translation>
    </message>
    <message>
        <source>a little low: fine tuner tighter</source>
        <translation>etwas zu tief: Feinstimmer fester</translation>
    </message>
    <message>
        <source>a little high: fine tuner looser</source>
        <translation>etwas zu hoch: Feinstimmer lockerer</translation>
    </message>
    <message>
        <source>much too low: peg tighter, with small turns</source>
        <translation>viel zu tief: Wirbel fester, in kleinen Drehungen</translation>
    </message>
    <message>
        <source>much too high: peg looser, with small turns</source>
        <translation>viel zu hoch: Wirbel lockerer, in kleinen Drehungen</translation>
    </message>
    <message>
        <source>To have at hand</source>
        <translation>Bereitlegen</translation>
    </message>
    <message>
        <source>Bow and strings</source>
        <translation>Bogen und Saiten</translation>
    </message>
    <message>
        <source>Player and instrument</source>
        <translation>Spieler und Instrument</translation>
    </message>
    <message>
        <source>Before the bow moves</source>
        <translation>Bevor der Bogen sich bewegt</translation>
    </message>
    <message>
        <source>Afterwards</source>
        <translation>Danach</translation>
    </message>
    <message>
        <source>Record the four open strings one after the other, a second or two each, and open the file: sound or video.</source>
        <translation>Die vier leeren Saiten nacheinander aufnehmen, jede ein bis zwei Sekunden, und die Datei öffnen: Ton oder Video.</translation>
    </message>
    <message>
        <source>Print…</source>
        <translation>Drucken…</translation>
    </message>
    <message>
        <source>This list and the steps of the hold, as a page to tick by hand</source>
        <translation>Diese Liste und die Schritte der Haltung, als Blatt zum Abhaken</translation>
    </message>
    <message>
        <source>Before the first note</source>
        <translation>Vor dem ersten Ton</translation>
    </message>
    <message>
        <source>Tuning</source>
        <translation>Stimmen</translation>
    </message>
    <message>
        <source>Open a recording…</source>
        <translation>Aufnahme öffnen…</translation>
    </message>
    <message>
        <source>A string that is turned up pulls its neighbours down: listen again when all four are done.</source>
        <translation>Eine Saite, die höher gestimmt wird, zieht die Nachbarn tiefer: noch einmal anhören, wenn alle vier fertig sind.</translation>
    </message>
    <message>
        <source>A photo of the strung bow from the side says how far the two are apart, in pencils, and how the stick bends.</source>
        <translation>Ein Foto des gespannten Bogens von der Seite sagt, wie weit die beiden auseinander sind, in Bleistiften, und wie sich die Stange biegt.</translation>
    </message>
    <message>
        <source>Open a photo…</source>
        <translation>Ein Foto öffnen…</translation>
    </message>
    <message>
        <source>Before the first note: {0} of {1} ready</source>
        <translation>Vor dem ersten Ton: {0} von {1} bereit</translation>
    </message>
    <message>
        <source>{0}: {1} Hz, {2} cents ± {3}, {4}</source>
        <translation>{0}: {1} Hz, {2} Cent ± {3}, {4}</translation>
    </message>
    <message>
        <source>Not heard: {0}.</source>
        <translation>Nicht gehört: {0}.</translation>
    </message>
    <message>
        <source>millimetres from the bridge</source>
        <translation>Millimeter vom Steg</translation>
    </message>
    <message>
        <source>share of the way to the fingerboard</source>
        <translation>Anteil des Wegs zum Griffbrett</translation>
    </message>
    <message>
        <source>between sound-hole and fingerboard</source>
        <translation>zwischen F-Loch und Griffbrett</translation>
    </message>
    <message>
        <source>Each choice has its reason in italics: common practice, no source, unless one is named.</source>
        <translation>Der Grund jeder Wahl steht kursiv: übliche Praxis, ohne Quelle, sofern keine genannt ist.</translation>
    </message>
    <message>
        <source>Rename…</source>
        <translation>Umbenennen…</translation>
    </message>
    <message>
        <source>Done</source>
        <translation>Fertig</translation>
    </message>
    <message>
        <source>Contact lane</source>
        <translation>Bahn auf der Saite</translation>
    </message>
    <message>
        <source>How the lane is measured</source>
        <translation>Wie die Bahn gemessen wird</translation>
    </message>
    <message>
        <source>Click a note: how it was played, and its frame. Drag the end of a bow to give it more or less.</source>
        <translation>Auf eine Note klicken: wie sie gespielt wurde, und ihr Bild. Das Ende eines Bogens ziehen, um ihm mehr oder weniger zu geben.</translation>
    </message>
    <message>
        <source>Scale in two octaves</source>
        <translation>Tonleiter über zwei Oktaven</translation>
    </message>
    <message>
        <source>Key</source>
        <translation>Tonart</translation>
    </message>
    <message>
        <source>minor</source>
        <translation>Moll</translation>
    </message>
    <message>
        <source>Bow pattern</source>
        <translation>Strichart</translation>
    </message>
    <message>
        <source>Piece</source>
        <translation>Stück</translation>
    </message>
    <message>
        <source>Kept pieces</source>
        <translation>Aufbewahrte Stücke</translation>
    </message>
    <message>
        <source>Open a file…</source>
        <translation>Datei öffnen…</translation>
    </message>
    <message>
        <source>Staff</source>
        <translation>System</translation>
    </message>
    <message>
        <source>Quarter notes a minute</source>
        <translation>Viertel in der Minute</translation>
    </message>
    <message>
        <source>From bar</source>
        <translation>Ab Takt</translation>
    </message>
    <message>
        <source>To bar</source>
        <translation>Bis Takt</translation>
    </message>
    <message>
        <source>to</source>
        <translation>bis</translation>
    </message>
    <message>
        <source>Tempo</source>
        <translation>Tempo</translation>
    </message>
    <message>
        <source>bars</source>
        <translation>Takte</translation>
    </message>
    <message>
        <source>Ways to divide the bow</source>
        <translation>Wege, den Bogen einzuteilen</translation>
    </message>
    <message>
        <source>Save as MusicXML…</source>
        <translation>MusicXML sichern…</translation>
    </message>
    <message>
        <source>Print as PDF…</source>
        <translation>PDF drucken…</translation>
    </message>
    <message>
        <source>{0}, {1:.0f} to {2:.0f} cm/s</source>
        <translation>{0}, {1:.0f} bis {2:.0f} cm/s</translation>
    </message>
    <message>
        <source>less hair-widths</source>
        <translation>weniger Haarbreiten</translation>
    </message>
    <message>
        <source>Contact lane: {0}</source>
        <translation>Bahn auf der Saite: {0}</translation>
    </message>
    <message>
        <source>comes nearer with the stopped pitch</source>
        <translation>rückt mit der gegriffenen Tonhöhe näher</translation>
    </message>
    <message>
        <source>shrinks with the instrument&apos;s size</source>
        <translation>schrumpft mit der Größe des Instruments</translation>
    </message>
    <message>
        <source>Elbow by string, lowest first</source>
        <translation>Ellbogen je Saite, der tiefste zuerst</translation>
    </message>
    <message>
        <source>A bow is crooked from</source>
        <translation>Ein Bogen ist schief ab</translation>
    </message>
    <message>
        <source>Angle from which a bow is crooked</source>
        <translation>Winkel, ab dem ein Bogen schief ist</translation>
    </message>
    <message>
        <source>Since when</source>
        <translation>Seit wann</translation>
    </message>
    <message>
        <source>Profile of {0}</source>
        <translation>Profil von {0}</translation>
    </message>
    <message>
        <source>“{0}” is ready-made: what you change makes {1} a profile of their own.</source>
        <translation>„{0}“ ist mitgeliefert: was Sie ändern, gibt {1} ein eigenes Profil.</translation>
    </message>
    <message>
        <source>“{0}” also counts for {1}.</source>
        <translation>„{0}“ gilt auch für {1}.</translation>
    </message>
    <message>
        <source>“{0}” counts for {1} alone.</source>
        <translation>„{0}“ gilt nur für {1}.</translation>
    </message>
    <message>
        <source>On {0}: {1:.0f} to {2:.0f} mm from the bridge. {3}</source>
        <translation>Auf {0}: {1:.0f} bis {2:.0f} mm vom Steg. {3}</translation>
    </message>
    <message>
        <source>Elbow {0}, counted from the lowest</source>
        <translation>Ellbogen {0}, vom tiefsten gezählt</translation>
    </message>
    <message>
        <source>Not agreed: elbows are not judged by string until the order is set.</source>
        <translation>Nicht vereinbart: Ellbogen werden je Saite nicht beurteilt, bis die Reihenfolge gesetzt ist.</translation>
    </message>
    <message>
        <source>index</source>
        <translation>Zeigefinger</translation>
    </message>
    <message>
        <source>middle finger</source>
        <translation>Mittelfinger</translation>
    </message>
    <message>
        <source>ring finger</source>
        <translation>Ringfinger</translation>
    </message>
    <message>
        <source>little finger</source>
        <translation>kleiner Finger</translation>
    </message>
    <message>
        <source>thumb</source>
        <translation>Daumen</translation>
    </message>
    <message>
        <source>Joints of the hand</source>
        <translation>Gelenke der Hand</translation>
    </message>
    <message>
        <source>winding</source>
        <translation>Umwicklung</translation>
    </message>
    <message>
        <source>tape</source>
        <translation>Klebestreifen</translation>
    </message>
    <message>
        <source>balance point</source>
        <translation>Schwerpunkt</translation>
    </message>
    <message>
        <source>mid-bow marker</source>
        <translation>Marke in der Bogenmitte</translation>
    </message>
    <message>
        <source>The hand on the bow</source>
        <translation>Die Hand am Bogen</translation>
    </message>
    <message>
        <source>Where each finger goes by what was chosen</source>
        <translation>Wohin jeder Finger nach der Wahl kommt</translation>
    </message>
    <message>
        <source>{0} {1:.1f} cm</source>
        <translation>{0} {1:.1f} cm</translation>
    </message>
    <message>
        <source>{0:.0f} to {1:.0f} mm from the bridge</source>
        <translation>{0:.0f} bis {1:.0f} mm vom Steg</translation>
    </message>
    <message>
        <source>sound-hole</source>
        <translation>F-Loch</translation>
    </message>
    <message>
        <source>Nothing leaves the studio before it was agreed: who agreed, to what, and until when?</source>
        <translation>Nichts verlässt das Studio, bevor es vereinbart ist: wer hat wozu zugestimmt, und bis wann?</translation>
    </message>
    <message>
        <source>Nothing was written: handing it on was not agreed.</source>
        <translation>Nichts wurde geschrieben: die Weitergabe ist nicht vereinbart.</translation>
    </message>
    <message>
        <source>this stroke</source>
        <translation>dieser Strich</translation>
    </message>
    <message>
        <source>this stroke, half as fast</source>
        <translation>dieser Strich, halb so schnell</translation>
    </message>
    <message>
        <source>this stroke, a quarter as fast</source>
        <translation>dieser Strich, ein Viertel so schnell</translation>
    </message>
    <message>
        <source>the whole video</source>
        <translation>das ganze Video</translation>
    </message>
    <message>
        <source>the whole video, half as fast</source>
        <translation>das ganze Video, halb so schnell</translation>
    </message>
    <message>
        <source>What is to be seen? Faces are hidden.</source>
        <translation>Was soll zu sehen sein? Gesichter sind verdeckt.</translation>
    </message>
    <message>
        <source>A video for the student</source>
        <translation>Ein Video für den Schüler</translation>
    </message>
    <message>
        <source>The video is being written…</source>
        <translation>Das Video wird geschrieben…</translation>
    </message>
    <message>
        <source>Write an archive</source>
        <translation>Ein Archiv schreiben</translation>
    </message>
    <message>
        <source>the whole studio</source>
        <translation>das ganze Studio</translation>
    </message>
    <message>
        <source>Whose</source>
        <translation>Von wem</translation>
    </message>
    <message>
        <source>the videos and pictures too (faces are to be seen)</source>
        <translation>auch die Videos und Bilder (Gesichter sind zu sehen)</translation>
    </message>
    <message>
        <source>also of those who have not agreed to pictures: this file stays with me</source>
        <translation>auch von denen, die Bildern nicht zugestimmt haben: diese Datei bleibt bei mir</translation>
    </message>
    <message>
        <source>Not agreed, so their videos stay out: {0}</source>
        <translation>Nicht zugestimmt, ihre Videos bleiben weg: {0}</translation>
    </message>
    <message>
        <source>One file with everything measured, said and planned. Taken in again here or on another machine, all of it is there.</source>
        <translation>Eine Datei mit allem, was gemessen, gesagt und geplant wurde. Hier oder auf einem anderen Rechner wieder aufgenommen, ist alles da.</translation>
    </message>
    <message>
        <source>Choose the file…</source>
        <translation>Datei wählen…</translation>
    </message>
    <message>
        <source>the other way</source>
        <translation>andersherum</translation>
    </message>
    <message>
        <source>slur broken</source>
        <translation>Bindung unterbrochen</translation>
    </message>
    <message>
        <source>not separate</source>
        <translation>nicht getrennt</translation>
    </message>
    <message>
        <source>little bow</source>
        <translation>wenig Bogen</translation>
    </message>
    <message>
        <source>early</source>
        <translation>zu früh</translation>
    </message>
    <message>
        <source>late</source>
        <translation>zu spät</translation>
    </message>
    <message>
        <source>Not read: {0}.</source>
        <translation>Nicht gelesen: {0}.</translation>
    </message>
    <message>
        <source>Open notation</source>
        <translation>Noten öffnen</translation>
    </message>
    <message>
        <source>Notation (*.musicxml *.xml *.mxl *.mei *.abc)</source>
        <translation>Noten (*.musicxml *.xml *.mxl *.mei *.abc)</translation>
    </message>
    <message>
        <source>Reading {0}…</source>
        <translation>{0} wird gelesen…</translation>
    </message>
    <message>
        <source>Two bows are hooked into one here: choose another way to give it more or less.</source>
        <translation>Hier sind zwei Bögen zu einem verbunden: einen anderen Weg wählen, um ihm mehr oder weniger zu geben.</translation>
    </message>
    <message>
        <source>The open video does not seem to be of these notes ({0} of {1} found in it).</source>
        <translation>Das offene Video scheint nicht von diesen Noten zu sein ({0} von {1} darin gefunden).</translation>
    </message>
    <message>
        <source>{0} of {1} notes played</source>
        <translation>{0} von {1} Noten gespielt</translation>
    </message>
    <message>
        <source>{0} with another pitch</source>
        <translation>{0} mit anderer Tonhöhe</translation>
    </message>
    <message>
        <source>{0} left out</source>
        <translation>{0} ausgelassen</translation>
    </message>
    <message>
        <source>; at {0:.0f} quarter notes a minute.</source>
        <translation>; bei {0:.0f} Vierteln in der Minute.</translation>
    </message>
    <message>
        <source>Bow {0}, {1}</source>
        <translation>Bogen {0}, {1}</translation>
    </message>
    <message>
        <source>Bar {0}</source>
        <translation>Takt {0}</translation>
    </message>
    <message>
        <source>{0:.2f} to {1:.2f} s</source>
        <translation>{0:.2f} bis {1:.2f} s</translation>
    </message>
    <message>
        <source>bow {0:.0f} to {1:.0f} %</source>
        <translation>Bogen {0:.0f} bis {1:.0f} %</translation>
    </message>
    <message>
        <source>on {0}</source>
        <translation>auf {0}</translation>
    </message>
    <message>
        <source>angle {0:+.0f}°</source>
        <translation>Winkel {0:+.0f}°</translation>
    </message>
    <message>
        <source>{0:.0f} mm from the bridge</source>
        <translation>{0:.0f} mm vom Steg</translation>
    </message>
    <message>
        <source>another pitch</source>
        <translation>andere Tonhöhe</translation>
    </message>
    <message>
        <source>Assigned to this video: bows that go otherwise than printed are among the findings; see also Distribution and the ribbon.</source>
        <translation>Diesem Video aufgegeben: Striche, die anders gehen als notiert, stehen bei den Befunden; siehe auch Einteilung und das Band.</translation>
    </message>
    <message>
        <source>Save as MusicXML</source>
        <translation>Als MusicXML sichern</translation>
    </message>
    <message>
        <source>Print as PDF</source>
        <translation>Als PDF drucken</translation>
    </message>
    <message>
        <source>Notes with the bow under them</source>
        <translation>Noten mit dem Bogen darunter</translation>
    </message>
    <message>
        <source>Arrow keys go from note to note</source>
        <translation>Pfeiltasten gehen von Note zu Note</translation>
    </message>
    <message>
        <source>Choose a scale, or open a notation file.</source>
        <translation>Eine Tonleiter wählen oder eine Notendatei öffnen.</translation>
    </message>
    <message>
        <source>Add a student first; the videos belong to somebody.</source>
        <translation>Zuerst einen Schüler anlegen; die Videos gehören jemandem.</translation>
    </message>
    <message>
        <source>There is no video in it.</source>
        <translation>Darin ist kein Video.</translation>
    </message>
    <message>
        <source>{0} videos taken in; they are analysed one after another.</source>
        <translation>{0} Videos aufgenommen; sie werden nacheinander ausgewertet.</translation>
    </message>
    <message>
        <source>no sure finding</source>
        <translation>kein sicherer Befund</translation>
    </message>
    <message>
        <source>{0}, “{1}”: {2} strokes; {3}</source>
        <translation>{0}, „{1}“: {2} Striche; {3}</translation>
    </message>
    <message>
        <source>Both videos are measured together from now on: analyse again.</source>
        <translation>Von jetzt an werden beide Videos zusammen gemessen: neu auswerten.</translation>
    </message>
    <message>
        <source>From now on this video alone is measured.</source>
        <translation>Von jetzt an wird nur dieses Video gemessen.</translation>
    </message>
    <message>
        <source>Both phones side by side</source>
        <translation>Beide Telefone nebeneinander</translation>
    </message>
    <message>
        <source>Moment</source>
        <translation>Moment</translation>
    </message>
    <message>
        <source>bow angle</source>
        <translation>Bogenwinkel</translation>
    </message>
    <message>
        <source>contact point</source>
        <translation>Kontaktstelle</translation>
    </message>
    <message>
        <source>bow used</source>
        <translation>benutzter Bogen</translation>
    </message>
    <message>
        <source>Way along the stroke</source>
        <translation>Weg entlang des Strichs</translation>
    </message>
    <message>
        <source>As it was played</source>
        <translation>Wie gespielt</translation>
    </message>
    <message>
        <source>As asked</source>
        <translation>Wie verlangt</translation>
    </message>
    <message>
        <source>Put right:</source>
        <translation>Berichtigen:</translation>
    </message>
    <message>
        <source>end of the stroke</source>
        <translation>Ende des Strichs</translation>
    </message>
    <message>
        <source>Both are drawn by the program from measured figures, seen from where the phone stood.</source>
        <translation>Beide zeichnet das Programm nach gemessenen Werten, gesehen von dort, wo das Telefon stand.</translation>
    </message>
    <message>
        <source>It is being drawn: {0} %</source>
        <translation>Es wird gezeichnet: {0} %</translation>
    </message>
    <message>
        <source>{0} at the frog, {1} at the head</source>
        <translation>{0} am Frosch, {1} an der Spitze</translation>
    </message>
    <message>
        <source>{0} to {1} mm from the bridge</source>
        <translation>{0} bis {1} mm vom Steg</translation>
    </message>
    <message>
        <source>bow from {0} to {1}</source>
        <translation>Bogen von {0} bis {1}</translation>
    </message>
    <message>
        <source>Straight</source>
        <translation>Gerade</translation>
    </message>
    <message>
        <source>{0} mm from the bridge</source>
        <translation>{0} mm vom Steg</translation>
    </message>
    <message>
        <source>Mark the frog&apos;s end of the hair: where it comes out of the frog.</source>
        <translation>Markieren Sie das Ende des Haars am Frosch: wo es aus dem Frosch kommt.</translation>
    </message>
    <message>
        <source>Mark the head&apos;s end of the hair.</source>
        <translation>Markieren Sie das Ende des Haars an der Spitze.</translation>
    </message>
    <message>
        <source>less than two thirds of a pencil: tighten a little</source>
        <translation>weniger als zwei Drittel eines Bleistifts: etwas spannen</translation>
    </message>
    <message>
        <source>about a pencil, as it should be</source>
        <translation>etwa ein Bleistift, wie es sein soll</translation>
    </message>
    <message>
        <source>more than a pencil and a half: loosen a little</source>
        <translation>mehr als anderthalb Bleistifte: etwas entspannen</translation>
    </message>
    <message>
        <source>the stick bends away from the hair: far too tight, loosen it before it is played</source>
        <translation>die Stange biegt sich vom Haar weg: viel zu fest, vor dem Spielen entspannen</translation>
    </message>
    <message>
        <source>bends towards the hair</source>
        <translation>biegt sich zum Haar hin</translation>
    </message>
    <message>
        <source>is straight</source>
        <translation>ist gerade</translation>
    </message>
    <message>
        <source>bends away from the hair</source>
        <translation>biegt sich vom Haar weg</translation>
    </message>
    <message>
        <source>Hair and stick</source>
        <translation>Haar und Stange</translation>
    </message>
    <message>
        <source>Photo of the bow: Enter takes aim, arrows move, Enter marks</source>
        <translation>Foto des Bogens: Enter zielt, Pfeile bewegen, Enter markiert</translation>
    </message>
    <message>
        <source>Photograph the bow square from the side, as long as the picture, on something plain. Marks can be dragged.</source>
        <translation>Fotografieren Sie den Bogen gerade von der Seite, so lang wie das Bild, auf etwas Einfarbigem. Die Marken lassen sich ziehen.</translation>
    </message>
    <message>
        <source>Mark anew</source>
        <translation>Neu markieren</translation>
    </message>
    <message>
        <source>Tick: the bow is tightened</source>
        <translation>Abhaken: der Bogen ist gespannt</translation>
    </message>
    <message>
        <source>The gap between hair and stick</source>
        <translation>Der Abstand zwischen Haar und Stange</translation>
    </message>
    <message>
        <source>{0} ± {1} mm at the middle: {2} pencils</source>
        <translation>{0} ± {1} mm in der Mitte: {2} Bleistifte</translation>
    </message>
    <message>
        <source>Smallest {0} mm at {1} % of the hair from the frog; the stick {2} ({3} mm over the hair).</source>
        <translation>Am kleinsten {0} mm bei {1} % des Haars vom Frosch; die Stange {2} ({3} mm über das Haar).</translation>
    </message>
    <message>
        <source>A pencil is {0} mm.</source>
        <translation>Ein Bleistift hat {0} mm.</translation>
    </message>
    <message>
        <source>Where to put the phone</source>
        <translation>Wohin mit dem Telefon</translation>
    </message>
    <message>
        <source>Drag the phone: {0}</source>
        <translation>Ziehen Sie das Telefon: {0}</translation>
    </message>
    <message>
        <source>One standard deviation, all landmarks set by a usual hand. Dotted: good enough from that side at this height.</source>
        <translation>Eine Standardabweichung, alle Messpunkte von üblicher Hand gesetzt. Gepunktet: von dieser Seite in dieser Höhe gut genug.</translation>
    </message>
    <message>
        <source>{0} degrees round, {1} degrees up, {2} m away</source>
        <translation>{0} Grad herum, {1} Grad hoch, {2} m entfernt</translation>
    </message>
    <message>
        <source>From here the instrument cannot be measured.</source>
        <translation>Von hier lässt sich das Instrument nicht messen.</translation>
    </message>
    <message>
        <source>bow angle ± {0}°, contact point ± {1} mm, bow position ± {2} %</source>
        <translation>Bogenwinkel ± {0}°, Kontaktstelle ± {1} mm, Ort auf dem Bogen ± {2} %</translation>
    </message>
    <message>
        <source>The player stands between: nothing is seen of the bow&apos;s way.</source>
        <translation>Der Spieler steht dazwischen: vom Weg des Bogens ist nichts zu sehen.</translation>
    </message>
    <message>
        <source>Too near: the whole bow does not fit into the picture at both ends of a stroke.</source>
        <translation>Zu nah: der ganze Bogen passt nicht an beiden Enden eines Strichs ins Bild.</translation>
    </message>
    <message>
        <source>Far away: the bow is small in the picture.</source>
        <translation>Weit weg: der Bogen ist klein im Bild.</translation>
    </message>
    <message>
        <source>Good for everything.</source>
        <translation>Gut für alles.</translation>
    </message>
    <message>
        <source>Not enough for every figure: move it until all are small.</source>
        <translation>Nicht genug für jede Größe: bewegen Sie es, bis alle klein sind.</translation>
    </message>
    <message>
        <source>The room: the phone is dragged, or moved by arrows, + and -</source>
        <translation>Der Raum: das Telefon wird gezogen, oder mit Pfeilen, + und - bewegt</translation>
    </message>
    <message>
        <source>from above</source>
        <translation>von oben</translation>
    </message>
    <message>
        <source>the scroll&apos;s side</source>
        <translation>die Seite der Schnecke</translation>
    </message>
    <message>
        <source>from the side: the strings lie level</source>
        <translation>von der Seite: die Saiten liegen waagerecht</translation>
    </message>
    <message>
        <source>The index finger leaves the stick on the up-bow</source>
        <translation>Der Zeigefinger verlässt im Aufstrich die Stange</translation>
    </message>
    <message>
        <source>The little finger leaves the stick on the up-bow</source>
        <translation>Der kleine Finger verlässt im Aufstrich die Stange</translation>
    </message>
    <message>
        <source>The hand slides along the stick</source>
        <translation>Die Hand rutscht an der Stange entlang</translation>
    </message>
    <message>
        <source>The index finger keeps the stick on the up-bow</source>
        <translation>Der Zeigefinger bleibt im Aufstrich an der Stange</translation>
    </message>
    <message>
        <source>The little finger keeps the stick on the up-bow</source>
        <translation>Der kleine Finger bleibt im Aufstrich an der Stange</translation>
    </message>
    <message>
        <source>The hand keeps its place along the stick</source>
        <translation>Die Hand behält ihren Platz an der Stange</translation>
    </message>
    <message>
        <source>Whether the index finger leaves the stick cannot be told from this video</source>
        <translation>Ob der Zeigefinger die Stange verlässt, lässt dieses Video nicht erkennen</translation>
    </message>
    <message>
        <source>Whether the little finger leaves the stick cannot be told from this video</source>
        <translation>Ob der kleine Finger die Stange verlässt, lässt dieses Video nicht erkennen</translation>
    </message>
    <message>
        <source>Whether the hand slides cannot be told from this video</source>
        <translation>Ob die Hand rutscht, lässt dieses Video nicht erkennen</translation>
    </message>
    <message>
        <source>With a video open, the hand is followed through every stroke: up-bows beside down-bows, the first strokes beside the last.</source>
        <translation>Ist ein Video offen, wird die Hand durch jeden Strich verfolgt: Aufstriche neben Abstrichen, die ersten Striche neben den letzten.</translation>
    </message>
    <message>
        <source>The hand over the video</source>
        <translation>Die Hand im Lauf des Videos</translation>
    </message>
    <message>
        <source>Follow the hand</source>
        <translation>Die Hand verfolgen</translation>
    </message>
    <message>
        <source>Following the hand…</source>
        <translation>Die Hand wird verfolgt…</translation>
    </message>
    <message>
        <source>Too few strokes show the hand: play at least four down-bows and four up-bows on each string.</source>
        <translation>Zu wenige Striche zeigen die Hand: spielen Sie auf jeder Saite mindestens vier Abstriche und vier Aufstriche.</translation>
    </message>
    <message>
        <source>Keep as answer</source>
        <translation>Als Antwort behalten</translation>
    </message>
    <message>
        <source>Kept as what you see, of {0}; change it at any time</source>
        <translation>Als Ihre Beobachtung vom {0} behalten; jederzeit zu ändern</translation>
    </message>
    <message>
        <source>towards the head</source>
        <translation>zur Spitze hin</translation>
    </message>
    <message>
        <source>towards the screw</source>
        <translation>zur Schraube hin</translation>
    </message>
    <message>
        <source>{0} ± {1} mm {2} from the first stroke to the last of {3}</source>
        <translation>{0} ± {1} mm {2} vom ersten Strich zum letzten von {3}</translation>
    </message>
    <message>
        <source>{0} ± {1} % of the hand farther off than on the down-bow, in {2} strokes; it counts from {3} % on</source>
        <translation>{0} ± {1} % der Hand weiter weg als im Abstrich, in {2} Strichen; es zählt ab {3} %</translation>
    </message>
</context>
</TS>
