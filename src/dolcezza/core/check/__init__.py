"""How true the measuring is with one phone from one place: a card under the strings, a bow laid along its lines, what came out."""
