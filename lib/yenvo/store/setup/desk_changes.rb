# frozen_string_literal: true

module Yenvo
  module Store
    # Changes of teams and queues by administrators: made, renamed, retired, brought back.
    class DeskChanges < Base
      include FormWords
      include Saving

      # @param seen [Integer, nil] epoch of the set-up on which the change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      # @return [Hash{Symbol => Array<Hash>}] teams and queues, those that are retired too: of teams key, name,
      #   retired_at, members (keys of persons); of queues key, name, team, kinds (nil for all), order, retired_at,
      #   waiting (number of tasks)
      def all
        members = here.select_hash_groups(:team, :person)
        waiting = root.task_rows.open.exclude(queue: nil).where(assignee: nil).group_and_count(:queue)
          .as_hash(:queue, :count)
        {
          teams: db[:teams].order(:name).all.map { |row| {**row, members: members.fetch(row[:key], [])} },
          queues: db[:queues].order(:name).all.map do |row|
            {**row, kinds: row[:kinds] && load(row[:kinds]), waiting: waiting.fetch(row[:key], 0)}
          end
        }
      end

      # @param key [String, nil] nil for a new one
      # @param given [Hash] name
      # @return [String] key
      # @raise [Refused, NotFound]
      def team(key, given, cause:) = write(:teams, key, given, {}, cause)

      # @param key [String, nil] nil for a new one
      # @param given [Hash] name, team, kinds (Array of keys, empty or nil for all), order, anyway
      # @return [String] key
      # @raise [Refused, NotFound]
      def queue(key, given, cause:)
        row = {
          team: team_of(given["team"]), kinds: kinds(given["kinds"]), order: order(given["order"] || "due")
        }
        taking_away(
          "kinds", "that #{given["name"]} takes other records too", [], given["anyway"] == true, cause,
          leaning: RuleUses.new(root).about_others("queue #{key}", load(row[:kinds]))
        ) { write(:queues, key, given, row, cause) }
      end

      # Retires a team: nobody is put in it any more.
      # @raise [Refused] while somebody is in it, queues are its, or rules lean on it (unless +anyway+)
      def retire_team(key, cause:, anyway: false)
        name = find!(:teams, key)[:name]
        in_it = here.where(team: key).count
        refuse("team", "#{name} has #{many(in_it, "member")}. Put them in another team first.") if in_it.positive?
        queues = db[:queues].where(team: key, retired_at: nil).order(:name).select_map(:name)
        if queues.any?
          is, them = (queues.size == 1) ? ["is a queue", "it"] : ["are queues", "them"]
          refuse(
            "team", "#{queues.join(" and ")} #{is} of #{name}. Give #{them} to another team, or retire #{them} first."
          )
        end
        retire(:teams, key, "the team #{name}", "team #{key}", anyway, cause)
      end

      # @raise [Refused] while tasks wait in it, or rules lean on it (unless +anyway+)
      def retire_queue(key, cause:, anyway: false)
        name = find!(:queues, key)[:name]
        waiting = root.task_rows.open.where(queue: key, assignee: nil).count
        if waiting.positive?
          wait = (waiting == 1) ? "waits" : "wait"
          refuse("queue", "#{many(waiting, "task")} #{wait} in #{name}. Pass them on first, then retire it.")
        end
        retire(:queues, key, "the queue #{name}", "queue #{key}", anyway, cause)
      end

      # @param table [Symbol] :teams or :queues
      # @raise [NotFound, Refused]
      def bring_back(table, key, cause:)
        row = find!(table, key, retired: true)
        name(table, key, row[:name])
        if row[:team] && !schema.teams.key?(row[:team])
          refuse("queue", "The team of #{row[:name]} is retired too. Bring the team back first.")
        end
        save(cause) { db[table].where(key:).update(retired_at: nil) }
      end
      NOUNS = {teams: "team", queues: "queue"}.freeze

      private

      # Members who are still here.
      def here = db[:memberships].where(person: db[:people].where(active: true).select(:key))

      def many(count, noun) = "#{Core::Show.count(count)} #{noun}#{"s" if count != 1}"

      def find!(table, key, retired: false)
        row = db[table].where(key: key.to_s).first
        raise NotFound, "There is no #{NOUNS.fetch(table)} #{key.inspect}." unless row
        return row if row[:retired_at].nil? != retired

        raise NotFound, "#{row[:name]} is #{retired ? "here already" : "retired; bring it back first"}."
      end

      def name(table, key, given)
        noun = NOUNS.fetch(table)
        words = text(given, "name", "The name of the #{noun}", 120)
        same = db[table].where(retired_at: nil).exclude(key:).select_map(:name).any? { |one| one.casecmp?(words) }
        refuse("name", "There is a #{noun} #{words} already; two of the same name could not be told apart.") if same
        words
      end

      def team_of(key)
        schema.teams.key?(key) ? key : unknown("team", "team", key, "choose whose queue it is")
      end

      def kinds(given)
        chosen = Array(given).uniq
        strange = chosen.find { |key| schema.kind(key).nil? }
        refuse("kinds", "There is no kind of record #{Core::Show.quoted(strange)}.") if strange
        chosen.empty? ? nil : JSON.generate(schema.kinds.keys & chosen)
      end

      def order(given)
        orders = Queues::ORDERS
        orders.key?(given) ? given : refuse("order", "A queue is taken from as #{orders.keys.join(", ")}.")
      end

      def write(table, key, given, row, cause)
        find!(table, key) if key
        row[:name] = name(table, key, given["name"])
        made = key || free_key(row[:name], db[table].select_map(:key))
        save(cause, key && [table.to_s, key]) do
          key ? db[table].where(key:).update(row) : db[table].insert(key: made, **row)
        end
        made
      end

      def retire(table, key, words, what, anyway, cause)
        taking_away(NOUNS.fetch(table), words, [what], anyway, cause) do
          save(cause) { db[table].where(key:).update(retired_at: cause.at) }
        end
      end
    end
  end
end
