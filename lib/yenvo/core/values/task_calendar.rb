# frozen_string_literal: true

require "icalendar"

module Yenvo
  module Core
    # Tasks as a calendar that other programs read: iCalendar (RFC 5545), each task a VTODO, and one with a time also a
    # VEVENT for who wants that. Set with the icalendar gem.
    class TaskCalendar
      # By how urgent a task is, as RFC 5545 counts (3.8.1.9).
      PRIORITIES = {"urgent" => 1, "high" => 3, "normal" => 5, "low" => 9}.freeze
      STATES = {"open" => "NEEDS-ACTION", "waiting" => "NEEDS-ACTION", "started" => "IN-PROCESS"}.freeze
      # Minutes that an event takes.
      LASTS = 30
      # Hours after which programs should look again.
      REFRESH = "PT1H"

      # @param name [String] of the calendar
      # @param address [String] where people reach the house
      def initialize(name, address:, now:)
        @name = name
        @address = address
        @now = now
      end

      # @param tasks [Array<Hash>] rows: id, title, text, state, priority, made_at; due: Date, Time or nil; about: title
      #   of what it is about, or nil
      # @param events [Boolean]
      # @return [String]
      def text(tasks, events: false)
        calendar = Icalendar::Calendar.new
        calendar.prodid = "-//Yenvo//Tasks//EN"
        calendar.append_custom_property("X-WR-CALNAME", @name)
        calendar.refresh_interval = REFRESH
        tasks.each { |task| calendar.add_todo(todo(task)) }
        tasks.each { |task| calendar.add_event(event(task)) if events && task[:due] }
        calendar.publish
        calendar.to_ical
      end

      private

      def todo(task)
        filled(Icalendar::Todo.new, task, "task-#{task[:id]}").tap do |todo|
          todo.due = value(task[:due]) if task[:due]
          todo.priority = PRIORITIES.fetch(task[:priority], 0)
          todo.status = STATES.fetch(task[:state], "NEEDS-ACTION")
        end
      end

      # A task for a day takes the whole of it.
      def event(task)
        filled(Icalendar::Event.new, task, "time-of-task-#{task[:id]}").tap do |event|
          due = task[:due]
          event.dtstart = value(due)
          event.dtend = value(due.is_a?(Date) ? due + 1 : due + (LASTS * 60))
          event.transp = "TRANSPARENT" if due.is_a?(Date)
        end
      end

      def filled(part, task, uid)
        part.uid = "#{uid}@#{URI(@address).host}"
        part.dtstamp = moment(@now)
        part.summary = task[:title]
        part.description = [task[:about], task[:text]].compact.reject(&:empty?).join("\n\n")
        part.url = "#{@address}/worklist?task=#{task[:id]}"
        part.created = moment(task[:made_at])
        part
      end

      def value(due) = due.is_a?(Date) ? Icalendar::Values::Date.new(due) : moment(due)

      # In UTC, so that no table of the zone has to go along.
      def moment(time) = Icalendar::Values::DateTime.new(time.getutc, "tzid" => "UTC")
    end
  end
end
