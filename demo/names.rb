# frozen_string_literal: true

module Demo
  # Invented boats and their invented owners.
  module Names
    BOATS = [
      "Quiet Hour", "Marigold Tern", "Sallow", "Second Breakfast", "Oyster Moon", "Kittiwake II", "Petrel's Rest"
    ].freeze
    FIRST = %w[Grey Little Amber Northern Salt Idle Copper Early Velvet Winter Honest Silver Patient Merry Plain].freeze
    SECOND = %w[Heron Curlew Anchor Lantern Wren Thistle Compass Kestrel Harebell Dunlin Bramble Skerry Plover].freeze
    GIVEN = %w[
      Aldo
      Ilse
      Brona
      Tadhg
      Odile
      Sveinn
      Marta
      Ruben
      Niamh
      Joost
      Eilis
      Henrik
      Colm
      Lucia
      Petra
      Fergal
      Anouk
      Dara
      Siv
      Conor
    ].freeze
    FAMILY = %w[
      Ferrant
      Brandt
      Halloran
      Vick
      Mirande
      Aune
      Costello
      Duval
      Rasmus
      Keogh
      Teller
      Ibarra
      Noonan
      Lervik
      Quill
      Sorley
    ].freeze
    CLUBS = ["Fennick Sound Sailing Club", "Ballymoor Cruising Club", "North Quay Rowers", nil, nil].freeze
    SNAGS = [
      "Wet forepeak", "Bilge pump runs on", "Cracked chainplate", "Gas locker drain blocked", "Stern gland drips",
      "Loose guardrail", "Galley tap leaks", "Furling line chafed", "Windlass slips", "Blistered gelcoat",
      "Shore lead scorched", "Hatch seal perished", "Rudder bearing stiff", "Mast foot corroded", "Nav light dead"
    ].freeze
    GEAR = [
      "Slipway extinguishers", "Hoist slings, 30 t", "Hoist slings, 12 t", "Fuel berth extinguishers",
      "Fuel berth spill kit", "Slipway ladders", "Workshop extinguishers", "Pontoon A life rings",
      "Pontoon B life rings", "Pontoon C life rings", "First-aid boxes", "Crane hook"
    ].freeze
    NOTES = [
      "Asks whether the mast can stay up.", "Will send the papers tomorrow.", "Keys are with the harbour office.",
      "Wants the work done before the frost.", "Happy with the price, wants the date in writing.",
      "Prefers a call after six.", "Cover note is on its way.", "Asked for a second quote on the teak.",
      "Batteries are ashore, bring a lead.", "Will be abroad for two weeks."
    ].freeze
    NOBODY_COMES_TO = "Call the owner to confirm access"
    LEFT_OPEN = [
      "Ring back about the winter berth", "Find the papers of the old engine", "Agree the day of the sea trial",
      "Ask for the second key", "Measure the cradle", "Price the new rail", "Send the photographs",
      "Check the mooring lines", "Ask about the insurance excess", "Book the sailmaker", "Look for the lost fender",
      "Confirm the crane"
    ].freeze
    WORDS = [
      "Friendly people and a dry boat. The hoist was an hour late.", "Everything as promised.",
      "Three calls and nobody rang back.", "Fair price, good varnish.", "They found what two others had missed.",
      "The pontoon was full of nets again."
    ].freeze

    module_function

    # @return [Array<String>] 180 names of boats, no two alike
    def boats = every_boat.first(180)

    # @return [Array<String>] names of others
    def more_boats = every_boat.drop(180)

    def every_boat =
      @every_boat ||=
        BOATS + FIRST.product(SECOND).sort_by { |pair| pair.join.sum * 7919 % 1009 }.map { |pair| pair.join(" ") }

    # @return [Array<String>] 240 names of persons, no two alike, Aldo Ferrant first
    def owners =
      ([%w[Aldo Ferrant]] + (GIVEN.product(FAMILY) - [%w[Aldo Ferrant]]).sort_by { |pair| pair.join.sum * 6007 % 997 })
        .map { |pair| pair.join(" ") }.first(240)
  end
end
