# frozen_string_literal: true

module Yenvo
  module Store
    # Named views of lists: how one is narrowed and sorted, and which columns it shows. For whoever made it, their team,
    # or everybody.
    class Views < Base
      keeps :views

      WHOSE = %w[mine team everybody].freeze
      NAME = 60
      MOST = 100
      LONGEST = 4_000

      # @param person [Core::Schema::Person]
      # @return [Array<Hash>] rows that somebody has for a kind, by name
      def of(kind, person)
        mine = Sequel.|({person: person.key}, {whose: "everybody"}, {whose: "team", team: person.teams})
        table.where(kind:).where(mine).order(:name, :id).limit(MOST * 3).all
      end

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no such view; it may have been taken away.")

      # @param id [Integer, nil] nil for a new one
      # @param given [Hash] kind, name, query and whose, and team where that is "team"
      # @param person [Core::Schema::Person]
      # @return [Integer] id
      # @raise [Refused]
      def save(id, given, person, now:)
        row = read(given, person)
        root.transaction do
          next table.where(id:).update(row.slice(:name, :query, :whose, :team)) && id if id

          full(given, person)
          table.insert(**row, person: person.key, at: now)
        end
      end

      def remove(id) = table.where(id:).delete

      private

      def read(given, person)
        schema.kind(given["kind"]) || refuse("kind", "There is no such kind of record.")
        name = Core::Reading.trim(given["name"].to_s)
        refuse("name", "A view has a name of up to #{NAME} characters.") unless name.size.between?(1, NAME)
        query = dump(given["query"].to_h.except("after"))
        refuse("query", "A view holds at most #{LONGEST} characters of filters.") if query.size > LONGEST
        {kind: given["kind"], name:, query:, **shared(given, person)}
      end

      def shared(given, person)
        whose = given["whose"]
        refuse("whose", "A view is yours, your team's or everybody's.") unless WHOSE.include?(whose)
        return {whose:, team: nil} unless whose == "team"

        team = given["team"] || person.team
        refuse("team", "You are in no such team, so there is nobody to show it to.") unless person.teams.include?(team)
        {whose:, team:}
      end

      def full(given, person)
        return if table.where(kind: given["kind"], person: person.key).count < MOST

        refuse("name", "You have #{MOST} views of this list; take one away first.")
      end
    end
  end
end
