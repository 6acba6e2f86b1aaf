# frozen_string_literal: true

module Yenvo
  module Store
    # How a change of the set-up is written: with a new epoch in the same transaction, so that every process reads the
    # set-up anew. Whoever says what they had seen is told when somebody else changed the same thing in the meantime.
    module Saving
      private

      # @param part [Array<String>, nil] what is changed, see Setup#part; nil for something new
      # @param retime [Boolean] whether dates may be worked out otherwise after it
      # @yield writes the change
      # @raise [Conflict]
      def save(cause, part = nil, retime: false)
        root.transaction do
          # Others who change the set-up wait until this is written.
          db[:book_turn].for_update.first
          unchanged!(part) if part && @seen
          before = root.audit.state
          yield
          root.audit.note_setup(before, cause:)
          root.setup_store.changed(who: cause.who, now: cause.at)
          # What a date is worked out by may have changed, and what did not fit may fit.
          root.rules.retime(cause:) if retime
        end
        root.worked_out.all_stale(cause.at)
      end

      def unchanged!(part)
        root.forget
        was, is = root.setup_store.part(@seen, part), root.setup_store.part(nil, part)
        return if was == is

        who = schema.name_of(db[:epochs].where(what: "setup").where(Sequel[:id] > @seen).reverse(:id).get(:who))
        raise Conflict.new(
          "#{who} has changed the same in the meantime, so nothing was saved. What you wrote still stands here; load " \
          "the page anew to see theirs, or save once more to write over it.", conflicts: []
        )
      end

      # What hangs on a person, all of it.
      # @param rows [Array<Array>] by columns
      def write_anew(table, person, columns, rows)
        db[table].where(person:).delete
        db[table].import([:person, *columns], rows.map { |row| [person, *row] })
      end

      def taking_away(...) = Leaning.new(root).taking_away(...)
    end
  end
end
