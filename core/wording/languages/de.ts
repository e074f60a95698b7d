import type { Wording } from "../names";

export const de: Wording = {
  start: "Beginnen",
  questions: "Fragen?",
  yourCode: "Ihr Code",
  yourCodeOptional: "Ihr Code, falls Sie einen haben",
  codeMissing: "Geben Sie den Code ein, den Sie bekommen haben, oder einen, den Sie sich merken.",
  stoppedBefore: "Sie haben diese Studie an diesem Computer schon begonnen. Ihre bisherigen Antworten sind aufgehoben.",
  goOnThere: "Dort weitermachen",
  anotherPerson: "Als andere Person beginnen",
  anotherSure:
    "Die bisherigen Antworten gehören der Person, die begonnen hat, und bleiben aufgehoben. Eine andere Person beginnt von vorn.",
  otherWindow: "Diese Studie ist in einem anderen Fenster dieses Browsers geöffnet. Nur in einem kann sie weitergehen.",
  takeOver: "Hier weitermachen",
  otherComputer: "Die Studie geht an einem anderen Computer weiter. Sie können dieses Fenster schließen.",
  goOnElsewhere: "Ich habe an einem anderen Computer begonnen",
  goOnCode: "Code zum Weitermachen",
  goOnCodeIs:
    "Mit diesem Code können Sie an einem anderen Computer weitermachen. Schreiben Sie ihn auf und geben Sie ihn niemandem:",
  goOnUnknown: "Zu diesem Code gibt es keine Sitzung, die weitergehen kann. Sehen Sie noch einmal nach.",
  checkWindow:
    "Dieses Fenster ist zu klein für die Studie: Sie braucht {{width}} × {{height}}, es hat {{widthNow}} × {{heightNow}}. Vergrößern Sie es oder nehmen Sie einen anderen Bildschirm.",
  checkKeyboard: "Diese Studie braucht eine Tastatur. Drücken Sie die Leertaste.",
  checkSound:
    "Diese Studie braucht Ton. Setzen Sie Kopfhörer auf oder stellen Sie den Ton lauter, spielen Sie dann die Töne ab und zählen Sie sie.",
  playTones: "Töne abspielen",
  howMany: "Wie viele Töne haben Sie gehört?",
  notThatMany: "Das war nicht die Zahl der Töne. Stellen Sie den Ton lauter und versuchen Sie es noch einmal.",
  noFullScreen:
    "Diese Studie braucht den ganzen Bildschirm; dieser Browser erlaubt das nicht. Nehmen Sie einen Computer mit einem anderen Browser.",
  loading: "Wird geladen",
  notLoaded: "Etwas, das diese Studie braucht, konnte nicht geladen werden: {{what}}. Es hat noch nichts begonnen.",
  forResearcher: "Code für die Versuchsleitung",
  noConnection:
    "Die Studie ist nicht zu erreichen. Prüfen Sie die Verbindung dieses Computers; Ihre bisherigen Antworten sind sicher.",
  tryAgain: "Noch einmal versuchen",
  paused: "Die Studie wartet auf Sie",
  lookedAway: "Ein anderes Fenster war vor der Studie.",
  fullScreenLeft: "Die Studie füllt den Bildschirm nicht mehr.",
  trialAgain: "Der letzte Durchgang kommt noch einmal.",
  goOn: "Weiter",
  leave: "Studie verlassen",
  leaveSure: "Möchten Sie die Studie endgültig verlassen? Sie können jederzeit ohne Angabe von Gründen aufhören.",
  leaveKept: "Ihre bisherigen Antworten werden aufgehoben.",
  leaveRemoved: "Ihre Antworten werden gelöscht.",
  stay: "In der Studie bleiben",
  removalCode: "Wenn Ihre Antworten später gelöscht werden sollen, nennen Sie der Versuchsleitung diesen Code:",
  left: "Sie haben die Studie verlassen. Danke für Ihre Zeit.",
  leftKept: "Ihre bisherigen Antworten sind aufgehoben.",
  leftRemoved: "Ihre Antworten sind gelöscht.",
  breakWait: "In {{seconds}} s können Sie weitermachen.",
  shareDone: "{{share}} % geschafft",
  sending: "Ihre Antworten sind auf diesem Computer sicher; sie werden gesendet … {{sent}} von {{all}}",
  serverAway:
    "Der Server ist gerade nicht zu erreichen. Lassen Sie diese Seite offen: Sie versucht es von selbst weiter.",
  saveFile: "Meine Antworten als Datei speichern",
  fileSaved: "Schicken Sie die Datei an die Person, die Sie eingeladen hat. Diese Seite versucht es auch weiter.",
  done: "Sie sind fertig. Vielen Dank.",
  code: "Ihr Abschlusscode",
  noStorage:
    "Dieser Browser lässt die Studie Ihre Antworten nicht auf diesem Computer aufheben. Nehmen Sie ein Fenster, das nicht privat ist, und öffnen Sie den Link noch einmal.",
  notOpen: "Dieser Link führt zu keiner offenen Studie. Fragen Sie die Person, von der Sie ihn haben.",
  stopped:
    "Die Studie konnte gerade nicht weitergehen. Ihre bisherigen Antworten sind aufgehoben; Sie können dort weitermachen, wo Sie waren.",
  pilot: "Probelauf des Teams. Die Daten sind so gekennzeichnet.",
};
