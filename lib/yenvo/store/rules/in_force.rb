# frozen_string_literal: true

module Yenvo
  module Store
    # What is in force: the rules of an epoch, tied to the set-up of then, those that time wakes, and how all rules
    # stand. Reads only; Rules is what changes it.
    class InForce < Base
      KEPT_BOOKS = 6

      # @param epoch [Integer]
      # @return [Rulebook] what is in force in that epoch, tied to the set-up of then
      def book(epoch)
        current = root.schema
        @books = nil unless @books_for.equal?(current)
        @books_for = current
        books = (@books ||= {})
        books.shift if books.size > KEPT_BOOKS
        books[epoch] ||= root.setup_of(epoch)
          .then { |schema, _| Rulebook.new(versions(epoch).filter_map { |row| compile(row, schema) }) }
      end

      # @return [Boolean] whether any version of a rule was in force, though it may not fit the set-up that is known of
      #   then
      def any?(id, epoch) = !spans(epoch).where(Sequel[:rule_spans][:rule_id] => id).empty?

      # How all rules stand. Whatever changes that begins an epoch, so it is read once for each.
      # @return [Hash{Integer => Hash}] name, state, owner, version_id and published_at (of that version) by rule
      def states
        now = root.epoch
        known = @states
        return known[1] if known && known[0] == now

        db[:rules].left_join(:rule_versions, id: Sequel[:rules][:version_id])
          .select(Sequel[:rules][:id], :name, :state, :owner, :version_id, :published_at).as_hash(:id)
          .tap { |all| @states = [now, all] }
      end

      # @param epoch [Integer]
      # @return [TimerBook] the rules that time wakes; those that are paused keep their timers
      def timed(epoch)
        schema = root.schema
        known = @timed
        return known[2] if known && known[0].equal?(schema) && known[1] == epoch

        TimerBook.new(kept.filter_map { |row| compile(row) }).tap { |book| @timed = [schema, epoch, book] }
      end

      # @return [Boolean] whether any rule of that epoch, or any timer of now, is about tasks
      def about_tasks?(epoch) = book(epoch).needs?(TASK) || timed(root.epoch).of(TASK).any?
      TASK = Core::Schema::Subjects::TASK
      private_constant :TASK

      # @param kind [String, nil] of the record that the task is about, nil for none
      # @param what [String] what happened to it, such as "task_made"
      # @return [Boolean] whether any rule in force, or a timer of one, looks at such about tasks, or about records of
      #   the kind
      def looks_at_task?(kind, what) =
        [kind, Core::Schema::Subjects::TASK].compact.any? do |one|
          book(root.epoch).matcher.watches?(one, "task", what) || timed(root.epoch).hears?(one, what)
        end

      # @param schema [Core::Schema] of now or of the past
      # @return [Core::CompiledRule, nil] nil when the version does not fit the schema
      def compile(row, schema = root.schema)
        compiled_for(schema).then do |known|
          known.fetch(row[:version_id]) do |version|
            rule = Core::RuleReader.read!(load(row[:body]))
            known[version] = Core::CompiledRule.bind(
              rule, schema, id: row[:rule_id], version_id: version, number: row[:number]
            )[0]
          end
        end
      end

      # @return [Hash{Integer => Core::CompiledRule}] by version id; without those that no longer fit the schema
      def compiled(version_ids)
        known = compiled_for(root.schema)
        missing = version_ids.reject { |id| known.key?(id) }
        rows = missing.empty? ? [] : db[:rule_versions].where(id: missing).select(:id, :rule_id, :number, :body).all
        rows.each { |row| compile({version_id: row[:id], **row.slice(:rule_id, :number, :body)}) }
        compiled_for(root.schema).slice(*version_ids).compact
      end

      # @param rows [Array<Hash>] with a version_id each
      # @return [Hash{Integer => Core::CompiledRule}] as +compiled+
      def of_rows(rows) = rows.empty? ? {} : compiled(column(rows, :version_id).uniq)

      # @return [Array<Hash>] rule_id, version_id, number, body
      def versions(epoch)
        spans(epoch).join(:rule_versions, id: :version_id).join(:rules, id: Sequel[:rule_spans][:rule_id])
          .select(Sequel[:rule_spans][:rule_id], Sequel[:rule_spans][:version_id], :number, :body)
          .order(Sequel[:rules][:position], Sequel[:rules][:id]).all
      end

      private

      # Compiled rules by version, for each of the last few schemas that were asked for.
      def compiled_for(schema)
        kept = (@compiled ||= {}.compare_by_identity)
        kept.shift if kept.size > Root::PAST_SETUPS && !kept.key?(schema)
        kept[schema] ||= {}
      end

      # The published version of every rule that is on or paused.
      def kept
        db[:rules].where(state: %w[on paused]).join(:rule_versions, id: Sequel[:rules][:version_id])
          .select(Sequel[:rule_versions][:rule_id], Sequel[:rule_versions][:id].as(:version_id), :number, :body)
          .order(Sequel[:rules][:position], Sequel[:rules][:id]).all
      end

      def spans(epoch) =
        db[:rule_spans].where { (from_epoch <= epoch) & ((to_epoch =~ nil) | (to_epoch > epoch)) }
    end
  end
end
