# frozen_string_literal: true

module Yenvo
  module Store
    # One search over all that is kept: records by any text, e-mail, phone or number; tasks; notes, calls and mails;
    # rules, kits and people. Only what whoever asks may see, by texts that they may see, the newest first, and with
    # what it was found by. All words that are asked for have to begin a word of it.
    class Search < Base
      PAGE = 20
      # Of what there is, so many of each stand in an overview.
      FEW = {"records" => 8, "tasks" => 4, "notes" => 4, "people" => 3, "rules" => 3, "kits" => 3}.freeze
      SORTS = FEW.keys.freeze

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @return [Hash{String => Array(Array<Found>, Integer)}] some of each sort, and where to go on with it; nil at the
      #   end
      def overview(text) = SORTS.to_h { |sort| [sort, of(sort, text, limit: FEW.fetch(sort))] }

      # @param sort [String] one of SORTS
      # @param after [Integer, nil] where to go on
      # @return [Array(Array<Found>, Integer)]
      def of(sort, text, after: nil, limit: PAGE)
        asked = Core::Words.of(text.to_s)
        return [[], nil] if asked.empty?
        return paged(sort, asked, after, limit) if after || sort != "records"

        found, onward = paged(sort, asked, after, limit)
        [(told(text) + found).uniq(&:id), onward]
      end

      private

      def paged(sort, asked, after, limit)
        by = {"records" => RecordsByWords, "notes" => NotesByWords, "tasks" => TasksByWords}[sort]
        by ? by.new(root, @sight).page(asked, after:, limit:) : [named(sort, asked, after, limit), nil]
      end

      # Of people, rules and kits there are few, so they are one page.
      def named(sort, asked, after, limit) = after ? [] : NamesByWords.new(root, @sight).find(sort, asked, limit)

      # Found by number, e-mail or phone, which are no words.
      def told(text)
        rows = Finding.new(root, @sight).direct(text)
        rows.map { |row| Found.new(sort: "records", record: nil, **row.slice(:id, :title, :kind, :stage, :why)) }
      end
    end
  end
end
